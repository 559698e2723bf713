import { useId } from "react";

import { useLine } from "../line/line";
import { useUnits } from "../frame/units";

/** The kept chain's signal drawn as two rulers, level against signal, with the line through both. */
export function AtTheLine({ unsaved }: { unsaved: boolean }) {
  const { line, curve } = useLine();
  const units = useUnits();
  const id = useId();
  const marks = curve.signal_marks;
  const [first, last] = [marks[0], marks.at(-1)];
  const sent = line.stations.find((station) => station.key === "sent");
  if (!first || !last || !sent || first.innage_mm === last.innage_mm) return null;
  const along = (line.innage_mm - first.innage_mm) / (last.innage_mm - first.innage_mm);
  const share = Math.min(Math.max(along, -0.05), 1.05);
  const x = (ratio: number) => 62 + ratio * 476;
  return (
    <figure className="at-the-line" aria-labelledby={id}>
      <figcaption id={id}>
        At the line: innage <b className="mono">{units.text("length", line.innage_mm)}</b>, sent{" "}
        <b className="mono">{sent.text}</b>
        {unsaved && <span className="save-state waiting"> by the kept chain, not the one being typed</span>}
      </figcaption>
      <svg
        viewBox="0 0 600 96"
        role="img"
        aria-label={`${first.text} to ${last.text} with the level that each stands for`}
      >
        <line x1={x(0)} x2={x(1)} y1="48" y2="48" className="scale-rule" />
        {marks.map((mark, index) => {
          const place = x(index / (marks.length - 1));
          return (
            <g key={mark.text} className="scale-tick">
              <line x1={place} x2={place} y1="40" y2="56" />
              <text x={place} y="76" textAnchor="middle">
                {mark.text}
              </text>
              <text x={place} y="30" textAnchor="middle">
                {units.text("length", mark.innage_mm)}
              </text>
            </g>
          );
        })}
        <line x1={x(share)} x2={x(share)} y1="8" y2="88" className="scale-line" />
      </svg>
    </figure>
  );
}
