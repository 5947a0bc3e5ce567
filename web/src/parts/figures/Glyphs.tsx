/** The mark: three louvres. */
export function Mark({ size = 24 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
      <path d="M3 8l18-4M3 14l18-4M3 20l18-4" stroke="var(--amber)" strokeWidth="2.6" strokeLinecap="round" />
    </svg>
  );
}

/** How far a slat is open, drawn: louvres flat, half turned, turned; a notch for held, a bar for stopped. */
export function SlatGlyph({ state }: { state: string }) {
  const rise = state === "open" ? 5 : state === "shut" ? 0 : 2.5;
  return (
    <svg width="17" height="15" viewBox="0 0 17 15" aria-hidden>
      {state === "stopped" ? (
        <path d="M1 7.5h15" stroke="currentColor" strokeWidth="6" />
      ) : state === "held" ? (
        <path d="M1 4h5M11 4h5M1 11h5M11 11h5" stroke="currentColor" strokeWidth="2.6" />
      ) : (
        <path
          d={[3, 7.5, 12].map((y) => `M1 ${y + rise / 2}L16 ${y - rise / 2}`).join("")}
          stroke="currentColor"
          strokeWidth="2"
        />
      )}
    </svg>
  );
}

/** A verdict's shape: slanted strokes, broken strokes, a full bar. The word always stands beside it. */
export function VerdictGlyph({ verdict }: { verdict: string }) {
  return (
    <svg width="16" height="12" viewBox="0 0 16 12" aria-hidden>
      {verdict === "go" && <path d="M1 6l14-4M1 11l14-4" stroke="currentColor" strokeWidth="2.2" />}
      {verdict === "hold" && (
        <path d="M1 3h3M6.5 3h3M12 3h3M1 9h3M6.5 9h3M12 9h3" stroke="currentColor" strokeWidth="2.4" />
      )}
      {verdict === "stop" && <path d="M1 6h14" stroke="currentColor" strokeWidth="6" />}
    </svg>
  );
}
