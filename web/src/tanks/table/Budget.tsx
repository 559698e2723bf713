import { keys } from "../../api/keys";
import { api, ask, wordsOf } from "../../api/client";
import { useAsking } from "../../frame/asking";
import { useUnits } from "../../frame/units";
import { useWords } from "../../frame/words";
import { useLine } from "../../line/line";

/** Where the uncertainty at the line comes from, and what measuring the largest part again would bring. */
export function Budget({ tank }: { tank: number }) {
  const { line } = useLine();
  const units = useUnits();
  const words = useWords();
  const { answer: data, error } = useAsking(
    keys.tank(tank, "budget"),
    Math.round(line.innage_mm * 10) / 10,
    (innage_mm, signal) =>
      ask(
        api.GET("/api/tanks/{id}/budget/", { params: { path: { id: tank }, query: { innage_mm } }, signal }),
      ),
  );
  if (error) return <p className="problem">{wordsOf(error)}</p>;
  if (!data) return <progress aria-label="Working out the uncertainty" />;
  const half = (value: number, unit: string) =>
    unit === "mm" ? units.text("length", value) : `${value.toLocaleString("en")} ${unit}`;
  const worst = data.shares[0];
  return (
    <div className="pane">
      {data.u95_l === null || !worst ? (
        <p>
          Nothing is said of how far the dimensions may be off. At Survey, choose how the tank was measured,
          or type a ± beside each dimension.
        </p>
      ) : (
        <>
          <p>
            At the line the volume is good to <b className="mono">{units.half("volume", data.u95_l)}</b> (k =
            2). {worst.label} contributes most, {worst.share_pct.toFixed(0)} %.
            {data.better_u95_l !== null && data.better_half_width !== null && (
              <>
                {" "}
                Measured again by {data.better_by} (± {half(data.better_half_width, worst.unit)} instead of ±{" "}
                {half(worst.half_width, worst.unit)}), the table would be good to{" "}
                <b className="mono">{units.half("volume", data.better_u95_l)}</b> here.
              </>
            )}
          </p>
          <div className="wide-table">
            <table>
              <thead>
                <tr>
                  <th scope="col">Dimension</th>
                  <th scope="col" className="number">
                    ± (k = 2)
                  </th>
                  <th scope="col">Known from</th>
                  <th scope="col">Share of the variance</th>
                </tr>
              </thead>
              <tbody>
                {data.shares.map((share) => (
                  <tr key={share.label}>
                    <th scope="row">{share.label}</th>
                    <td className="number mono">{half(share.half_width, share.unit)}</td>
                    <td>{share.stated ? "stated" : (words?.methods[share.method] ?? "")}</td>
                    <td>
                      <span
                        className="share-bar"
                        style={{ width: `${share.share_pct * 1.2}px` }}
                        aria-hidden="true"
                      />{" "}
                      <span className="mono">{share.share_pct.toFixed(share.share_pct < 1 ? 2 : 0)} %</span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      {data.unstated.length > 0 && (
        <p className="text-quiet">Counted as exact: {data.unstated.join(", ").toLowerCase()}.</p>
      )}
    </div>
  );
}
