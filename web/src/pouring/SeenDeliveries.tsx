import { useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";

import { api, ask, wordsOf } from "../api/client";
import { keys } from "../api/keys";
import type { FormState } from "../frame/FormField";
import { clock, day } from "../frame/times";
import { useUnits } from "../frame/units";
import { litres, nextRow } from "./pour";

/** Deliveries that the tank's readings saw: each is an unplanned pour, once its amount is typed off the ticket. */
export function SeenDeliveries({ tank, form }: { tank: number; form: FormState }) {
  const units = useUnits();
  const { data, error } = useQuery({
    queryKey: keys.tank(tank, "seen-deliveries"),
    queryFn: () => ask(api.GET("/api/tanks/{id}/pours/seen/", { params: { path: { id: tank } } })),
    throwOnError: false,
  });
  if (error) return <p className="problem">{wordsOf(error)}</p>;
  if (!data) return <progress aria-label="Looking for deliveries" />;
  if (data.length === 0) return <p className="empty">No delivery was seen in the last 60 days.</p>;
  const row = nextRow(form.entries);
  return (
    <ul className="events">
      {data.slice(0, 12).map((one) => (
        <li key={one.start}>
          {day(one.start)}, {clock(one.start)}: from {units.tape(one.before_mm)} to {units.tape(one.after_mm)}
          , about {litres(units, one.volume_l)} by the table of now{" "}
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() =>
              form.change({
                ...(form.entries["start.reading"]
                  ? { [`pours[${row}].resumed`]: `${one.before_mm} mm` }
                  : { "start.reading": `${one.before_mm} mm` }),
                [`pours[${row}].does`]: "in",
                [`pours[${row}].reading`]: `${one.after_mm} mm`,
              })
            }
          >
            Take it in
          </Button>
        </li>
      ))}
    </ul>
  );
}
