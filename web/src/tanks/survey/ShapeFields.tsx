import { fieldAt } from "./useSurvey";
import { Choice } from "../../frame/Choice";
import { useUnits } from "../../frame/units";
import { countRows, type Entries, type Reading, type Words } from "./form";
import { LengthField } from "./LengthField";
import { RowsFields } from "./RowsFields";
import { Tracer } from "./Tracer";

type Kind = Words["shapes"][number];
type Part = Kind["parts"][number];

interface Props {
  words: Words;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
  /** Takes the whole of the entries, for lists. */
  onReplace: (entries: Entries) => void;
}

const ROW_NAMES: Record<string, string> = { courses: "course", points: "point", points_mm: "corner" };

/** The kinds that a part may be. */
function family(words: Words, part: Part): Kind[] {
  return (part.family === "head" ? words.heads : words.sections).filter((kind) =>
    part.kinds.includes(kind.kind),
  );
}

/** The shape: its kind, its lengths, its lists and its parts, as the core lists them. */
export function ShapeFields(props: Props) {
  const { words, entries, reading, onChange, onReplace } = props;
  const kind = words.shapes.find((shape) => shape.kind === entries["shape.kind"]);

  function chooseKind(chosen: string) {
    const shape = words.shapes.find((one) => one.kind === chosen);
    const changes: Entries = { "shape.kind": chosen };
    for (const part of shape?.parts ?? []) {
      const path = `shape.${part.key}.kind`;
      const old = entries[path];
      changes[path] = old && part.kinds.includes(old) ? old : (part.kinds[0] ?? "");
    }
    for (const rows of shape?.rows ?? [])
      for (let i = countRows(entries, `shape.${rows.key}`, rows.columns[0]?.key ?? ""); i < rows.fewest; i++)
        for (const column of rows.columns) changes[`shape.${rows.key}[${i}].${column.key}`] = "";
    onChange(changes);
  }

  return (
    <fieldset>
      <legend>Shape</legend>
      <Choice
        label="Kind"
        value={entries["shape.kind"] ?? ""}
        options={words.shapes.map((shape) => [shape.kind, shape.label])}
        onChange={chooseKind}
      />
      <Choice
        label="Measured by"
        value={entries["measured.all"] ?? ""}
        options={[["", "not said: what has no ± counts as exact"], ...Object.entries(words.methods)]}
        onChange={(chosen) => onChange({ "measured.all": chosen })}
      />
      <p className="column-names" aria-hidden="true">
        <span />
        <span>inside, as measured</span>
        <span>± (k = 2)</span>
      </p>
      {kind && <KindFields {...props} kind={kind} where="shape" onReplace={onReplace} />}
      {kind?.sloping && (
        <LengthField
          words={words}
          path="slope_mm_per_m"
          label="Slope"
          hint="Rise of the right end: 5 mm/m, 1:200, 0.3°; − if it falls; empty if level"
          optional
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
      )}
      <Holds reading={reading} />
    </fieldset>
  );
}

/** What one kind asks for: numbers, lists, choices, then its parts. */
function KindFields({ kind, where, ...props }: Props & { kind: Kind; where: string }) {
  const { words, entries, reading, onChange, onReplace } = props;
  return (
    <>
      {kind.dimensions.map((dimension) => (
        <LengthField
          key={dimension.key}
          words={words}
          path={`${where}.${dimension.key}`}
          label={dimension.label}
          hint={dimension.hint}
          optional={dimension.optional}
          toleranced={dimension.quantity === "length"}
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
      ))}
      {kind.kind === "polygon" ? (
        <Tracer path={where} entries={entries} reading={reading} onReplace={onReplace} />
      ) : (
        kind.rows.map((rows) => (
          <div key={rows.key}>
            <h2 className="rows-title">{rows.label}</h2>
            <RowsFields
              path={`${where}.${rows.key}`}
              label={rows.label}
              one={ROW_NAMES[rows.key] ?? "row"}
              columns={rows.columns}
              entries={entries}
              reading={reading}
              onReplace={onReplace}
            />
          </div>
        ))
      )}
      {kind.choices.map((choice) => (
        <Choice
          key={choice.key}
          label={choice.label}
          value={
            entries[`${where}.${choice.key}`] ||
            fieldAt(reading, `${where}.${choice.key}`)?.kept ||
            (Object.keys(choice.options)[0] ?? "")
          }
          options={Object.entries(choice.options)}
          onChange={(chosen) => onChange({ [`${where}.${choice.key}`]: chosen })}
        />
      ))}
      {kind.parts.map((part) => {
        const path = `${where}.${part.key}`;
        const chosen = family(words, part).find((one) => one.kind === entries[`${path}.kind`]);
        return (
          <div key={part.key} className="head-fields">
            <PartChoice words={words} part={part} path={path} entries={entries} onChange={onChange} />
            {chosen && <KindFields {...props} kind={chosen} where={path} />}
          </div>
        );
      })}
    </>
  );
}

function PartChoice({
  words,
  part,
  path,
  entries,
  onChange,
}: Pick<Props, "words" | "entries" | "onChange"> & { part: Part; path: string }) {
  const patterns =
    part.family === "head" ? words.patterns.filter((one) => part.kinds.includes(one.kind)) : [];
  const options: [string, string][] = [
    ...(part.optional ? [["", "Flat"] as [string, string]] : []),
    ...family(words, part)
      .filter((kind) => !(part.optional && kind.kind === "flat"))
      .map((kind): [string, string] => [kind.kind, kind.label]),
    ...patterns.map((pattern, index): [string, string] => [
      `pattern ${index}`,
      `${pattern.label} (fills in)`,
    ]),
  ];
  function choose(chosen: string) {
    const pattern = chosen.startsWith("pattern ") ? patterns[Number(chosen.slice(8))] : undefined;
    if (!pattern) {
      onChange({ [`${path}.kind`]: chosen });
      return;
    }
    const filled: Entries = {};
    for (const [key, text] of Object.entries(pattern.entries)) filled[`${path}.${key}`] = text;
    onChange({ [`${path}.kind`]: pattern.kind, ...filled });
  }
  return (
    <Choice label={part.label} value={entries[`${path}.kind`] ?? ""} options={options} onChange={choose} />
  );
}

/** What the tank holds, and between which bounds it can be used. */
function Holds({ reading }: { reading: Reading | undefined }) {
  const units = useUnits();
  const facts = reading?.facts;
  if (!facts) return null;
  const { limits } = facts;
  const volume = (litres: number) => <span className="mono">{units.text("volume", litres)}</span>;
  const unseen = limits.below_gauge_l > 0.05 || limits.above_gauge_l > 0.05;
  return (
    <p className="capacity">
      Holds <strong className="mono">{units.text("volume", facts.capacity_l)}</strong> to an inside height of{" "}
      <strong className="mono">{units.text("length", facts.inside_height_mm)}</strong>
      {limits.brim_l < facts.capacity_l - 0.05 && <>, {volume(limits.brim_l)} to the overflow</>}. Safe fill{" "}
      {volume(limits.safe_l)} at <span className="mono">{units.text("length", limits.safe_level_mm)}</span>,
      unpumpable {volume(limits.unpumpable_l)}, usable {volume(limits.usable_l)}.
      {unseen && (
        <>
          {" "}
          The gauge does not see {volume(limits.below_gauge_l)} below its zero and{" "}
          {volume(limits.above_gauge_l)} above its top.
        </>
      )}
    </p>
  );
}
