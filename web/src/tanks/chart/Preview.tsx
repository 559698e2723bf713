import { useUnits } from "../../frame/units";
import type { ChartPreview, Mapping } from "./chart";

/** A file as it would be read: its first rows, its curve, and what cannot be read. */
export function Preview({ preview, mapping }: { preview: ChartPreview; mapping: Mapping }) {
  const units = useUnits();
  const points = preview.points;
  const last = points?.at(-1) ?? [];
  const mark = (column: number) =>
    column === mapping.level_column ? "is-level" : column === mapping.volume_column ? "is-volume" : undefined;
  return (
    <>
      <div className="preview" tabIndex={0} role="group" aria-label="First rows of the file">
        <table>
          <tbody>
            {preview.head.map((row, index) => (
              <tr key={index}>
                <th scope="row">{index + 1}</th>
                {row.map((cell, column) => (
                  <td key={column} className={mark(column)}>
                    {index === 0 && mapping.header ? <b>{cell}</b> : cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {points ? (
        <div className="chart-read">
          <p role="status">
            {points.length} points of {preview.row_count} rows, up to{" "}
            <b className="mono">{units.text("length", last[0] ?? 0)}</b> and{" "}
            <b className="mono">{units.text("volume", last[1] ?? 0)}</b>
            {preview.skipped > 0 && `; ${preview.skipped} empty rows passed over`}.
          </p>
          <Curve points={points} />
        </div>
      ) : (
        preview.problems.map((problem) => (
          <p key={problem.where + problem.what} className="problem">
            {problem.where.startsWith("row ") && `${problem.where}: `}
            {problem.what}
          </p>
        ))
      )}
    </>
  );
}

function Curve({ points }: { points: number[][] }) {
  const [top = 1, most = 1] = points.at(-1) ?? [];
  const path = points
    .map(
      ([level = 0, volume = 0]) =>
        `${((level / top) * 300).toFixed(1)} ${(82 - (volume / most) * 80).toFixed(1)}`,
    )
    .join("L");
  return (
    <svg viewBox="0 0 302 84" className="chart-read-curve" role="img" aria-label="The chart's curve">
      <path d={`M${path}`} />
    </svg>
  );
}
