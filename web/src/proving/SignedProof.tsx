import { clock, day } from "../frame/times";
import { useUnits } from "../frame/units";
import { CELLS, type Proof } from "./proof";
import { Verdict } from "./Verdict";

/** A signed proof, to be read. */
export function SignedProof({ proof }: { proof: Proof }) {
  const units = useUnits();
  const { entries, result } = proof;
  const used = CELLS.filter(({ name }) => entries.points.some((point) => point[name]?.trim()));
  return (
    <article className="signed" aria-label="Signed proof">
      <p className="signed-by">
        Signed by <strong>{proof.signed_by}</strong>, {day(proof.signed_at ?? "")}{" "}
        {clock(proof.signed_at ?? "")}.{" "}
        <a className="btn btn-outline-secondary" href={`/api/proofs/${proof.id}/record.pdf/`} download>
          PDF record
        </a>
      </p>
      <p className="text-quiet">
        {proof.applied}; read: {proof.read.toLowerCase()}; tolerance ±{" "}
        {units.text("length", result.tolerance_mm ?? 0)}.
      </p>
      <Verdict result={result} entries={entries} signed />
      <div className="signed-scroll" tabIndex={0} role="region" aria-label="Readings">
        <table className="signed-points">
          <thead>
            <tr>
              <th scope="col">Applied</th>
              <th scope="col">Should read</th>
              {used.map((cell) => (
                <th key={cell.name} scope="col">
                  {cell.run} {cell.arrow}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {entries.points.map((point, index) => (
              <tr key={index} className="mono">
                <td>{point.applied}</td>
                <td>{result.points[index]?.should_read}</td>
                {used.map(({ name }) => {
                  const cell = result.points[index]?.cells[name];
                  return (
                    <td key={name} className={cell && !cell.passes ? "fails" : ""}>
                      {point[name]}
                      {cell && (
                        <small>
                          {" "}
                          {cell.passes ? "" : "▲ "}
                          {cell.error_mm > 0 ? "+" : ""}
                          {units.text("length", cell.error_mm)}
                        </small>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {result.dip && (
        <p>
          Dip {units.text("length", result.dip.dipped_mm)}, indicated{" "}
          {units.text("length", result.dip.indicated_mm)}: {result.dip.passes ? "agrees" : "does not agree"},{" "}
          {units.text("length", result.dip.difference_mm)}, {units.text("volume", result.dip.difference_l)}.
        </p>
      )}
      {entries.remarks && <p>{entries.remarks}</p>}
    </article>
  );
}
