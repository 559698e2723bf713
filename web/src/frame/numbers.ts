/** Write a number with a fixed count of places and thin spaces between thousands. */
export function places(value: number, decimals: number): string {
  const fixed = (Object.is(value, -0) ? 0 : value).toFixed(decimals);
  const text = Number(fixed) === 0 ? fixed.replace("-", "") : fixed;
  const [whole = "", rest] = text.split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, "\u202f").replace("-", "−");
  return rest ? `${grouped}.${rest}` : grouped;
}

/**
 * How many places a half-width bears: two digits that count and no more (JCGM 100:2008, 7.2.6), and at most one
 * place beyond a reading's own `decimals`. Fewer than none is tens and hundreds; a half-width of nothing says nothing.
 */
export function placesBy(half: number, decimals: number): number {
  if (!(Math.abs(half) > 0)) return decimals;
  const exponent = Number(Math.abs(half).toExponential(1).split("e")[1]);
  return Math.min(1 - exponent, decimals + 1);
}

/** Write a number to a place; below none, to whole tens or hundreds. */
export function toPlace(value: number, place: number): string {
  if (place >= 0) return places(value, place);
  const step = 10 ** -place;
  return places(Math.round(value / step) * step, 0);
}
