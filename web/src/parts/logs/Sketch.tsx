/** A column's values from end to end, small; blank cells are gaps held at the value before. */
export function Sketch({ values }: { values: (number | null)[] }) {
  const known = values.filter((value) => value !== null);
  if (known.length < 2) return null;
  const low = Math.min(...known);
  const span = Math.max(...known) - low || 1;
  let last = known[0];
  const points = values.map((value, index) => {
    last = value ?? last;
    return `${((index / (values.length - 1)) * 118 + 1).toFixed(1)},${(27 - ((last - low) / span) * 24).toFixed(1)}`;
  });
  return (
    <svg width="120" height="30" viewBox="0 0 120 30" aria-hidden className="sketch">
      <polyline points={points.join(" ")} fill="none" stroke="currentColor" strokeWidth="1.4" />
    </svg>
  );
}
