import type { Schema } from "../api/client";

/** Figures that the stations computed; each unfolds to its working. */
export function Figures({ lines }: { lines: Schema["Figure"][] }) {
  if (lines.length === 0) return null;
  return (
    <dl className="figures">
      {lines.map((line, at) => (
        <div key={line.label + String(at)}>
          <dt>{line.label}</dt>
          <dd>
            {line.formula ? (
              <details>
                <summary>
                  <span className="mono">{line.text}</span>
                </summary>
                <p>{line.formula}</p>
                {line.inputs.map((input) => (
                  <p key={input.label}>
                    {input.label} <span className="mono">{input.text}</span>
                  </p>
                ))}
                {line.source && <p className="text-quiet">{line.source}</p>}
              </details>
            ) : (
              <span className="mono">{line.text}</span>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}
