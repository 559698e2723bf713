import { useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";

import { api, ask, wordsOf } from "../api/client";
import { keys } from "../api/keys";
import { Opening } from "../frame/Opening";
import { Scroll } from "../frame/Scroll";
import { useUnits } from "../frame/units";

/** A source read once: every value with the words it lay in, and every hop that it is taken through. */
export function Trial({ source }: { source: number }) {
  const { system } = useUnits();
  const { data, error, refetch, isFetching } = useQuery({
    queryKey: [...keys.sources, source, "try", system],
    queryFn: () =>
      ask(api.POST("/api/sources/{id}/try/", { params: { path: { id: source }, query: { system } } })),
    staleTime: Infinity,
    gcTime: 0,
    throwOnError: false,
  });
  if (error) return <p className="problem">{wordsOf(error)}</p>;
  if (!data) return <Opening />;
  return (
    <div className="trial">
      {data.problem && <p className="problem">{data.problem}</p>}
      {data.values.length > 0 && (
        <Scroll label="Read once">
          <table className="plain-table">
            <caption>Read once; nothing was kept of it</caption>
            <thead>
              <tr>
                <th>Channel</th>
                <th>Words</th>
                <th>Value</th>
                <th>Taken through</th>
              </tr>
            </thead>
            <tbody>
              {data.values.map((value) => (
                <tr key={value.channel}>
                  <td>{value.channel}</td>
                  <td className="mono">{value.words}</td>
                  <td className="mono">
                    {value.problem ? <span className="problem">{value.problem}</span> : value.value}
                  </td>
                  <td>
                    {value.hops.map((hop, index) => (
                      <span key={hop.station}>
                        {index > 0 && " → "}
                        {hop.label} <span className="mono">{hop.text}</span>
                      </span>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      <Button size="sm" variant="outline-secondary" disabled={isFetching} onClick={() => void refetch()}>
        Read it again
      </Button>
    </div>
  );
}
