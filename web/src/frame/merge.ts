/** Comparing what two people made of the same thing, place by place. */

type Tree = Record<string, unknown>;
/** Where a value stands: keys from the outside in. */
export type Place = string[];

export interface Difference {
  place: Place;
  /** What stood there when the typing began. */
  from: unknown;
  mine: unknown;
  theirs: unknown;
  /** What is taken unless somebody chooses: the side that changed it, where only one did. */
  usual: "mine" | "theirs" | null;
}

function isTree(value: unknown): value is Tree {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** What is not there says the same as an empty text. */
function plain(value: unknown): unknown {
  return value === undefined || value === null ? "" : value;
}

/** Whether two values say the same, in whatever order their keys stand. */
export function same(a: unknown, b: unknown): boolean {
  const [one, other] = [plain(a), plain(b)];
  if (Array.isArray(one) && Array.isArray(other))
    return one.length === other.length && one.every((value, index) => same(value, other[index]));
  if (isTree(one) && isTree(other)) {
    const keys = new Set([...Object.keys(one), ...Object.keys(other)]);
    return [...keys].every((key) => same(one[key], other[key]));
  }
  return one === other;
}

/** Whether two values are one, an empty text apart from none, in whatever order their keys stand. */
export function alike(a: unknown, b: unknown): boolean {
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((value, index) => alike(value, b[index]));
  if (isTree(a) && isTree(b)) {
    const keys = Object.keys(a);
    return (
      keys.length === Object.keys(b).length &&
      keys.every((key) => Object.hasOwn(b, key) && alike(a[key], b[key]))
    );
  }
  return a === b;
}

/** Lists of one length are compared row by row, others as a whole. */
function parts(values: unknown[]): string[] | null {
  if (values.every(isTree)) return [...new Set(values.flatMap((value) => Object.keys(value)))];
  if (!values.every(Array.isArray)) return null;
  const lists = values as unknown[][];
  const count = lists[0]?.length ?? 0;
  return lists.every((list) => list.length === count) ? [...Array(count).keys()].map(String) : null;
}

function at(value: unknown, key: string): unknown {
  return (value as Tree)[key];
}

/** Every place where mine and theirs differ, with what stood there before either. */
export function differences(from: unknown, mine: unknown, theirs: unknown, place: Place = []): Difference[] {
  if (same(mine, theirs)) return [];
  const within = parts([mine, theirs]);
  if (within)
    return within.flatMap((key) =>
      differences(
        typeof from === "object" && from !== null ? at(from, key) : undefined,
        at(mine, key),
        at(theirs, key),
        [...place, key],
      ),
    );
  const usual = same(mine, from) ? "theirs" : same(theirs, from) ? "mine" : null;
  return [{ place, from, mine, theirs, usual }];
}

function put(into: unknown, place: Place, value: unknown): unknown {
  const [key, ...rest] = place;
  if (key === undefined) return value;
  const next = put(at(into, key), rest, value);
  if (Array.isArray(into)) return into.map((old, index) => (String(index) === key ? next : (old as unknown)));
  const others = Object.entries(into as Tree).filter(([name]) => name !== key);
  return Object.fromEntries(next === undefined ? others : [...others, [key, next]]);
}

/** Theirs, with mine at the places that were chosen so. */
export function merged<T>(theirs: T, chosen: Difference[]): T {
  return chosen.reduce<unknown>((all, { place, mine }) => put(all, place, mine), theirs) as T;
}

const UNIT = /_(mm|l|m2|kg|ma|v|pct|kg_m3|mm_per_m)$/;

/** A place in words: “shape, left head, depth”. */
export function placeWords(place: Place): string {
  const words: string[] = [];
  for (const part of place.join(".").split(".")) {
    const row = /^(.*)\[(\d+)\]$/.exec(part);
    const name = (row?.[1] ?? part).replace(UNIT, "").replaceAll("_", " ");
    if (/^\d+$/.test(name)) words.push(`${words.pop() ?? ""} ${Number(name) + 1}`);
    else if (row) words.push(`${name} ${Number(row[2]) + 1}`);
    else if (name !== "entries") words.push(name);
  }
  return words.join(", ");
}

/** A value as it stands in a comparison. */
export function valueWords(value: unknown): string {
  const what = plain(value);
  if (what === "" || (Array.isArray(what) && what.length === 0)) return "—";
  if (typeof what === "boolean") return what ? "yes" : "no";
  if (Array.isArray(what)) return what.map(valueWords).join("; ");
  if (isTree(what))
    return Object.values(what)
      .filter((part) => plain(part) !== "")
      .map(valueWords)
      .join(" ");
  return typeof what === "string" ? what.replaceAll("_", " ") : String(what);
}
