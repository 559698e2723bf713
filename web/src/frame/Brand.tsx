/** The name with the line drawn through. */
export function Brand() {
  return <span className="brand">Rasante</span>;
}
