import type { Schemas } from "../../api/client";

/** A drawing to scale: millimetres in, placed by the server; here only ink. */
export function Drawing({ drawing }: { drawing: Schemas["DrawingOut"] }) {
  // Text of about 14 px, whichever side of the frame limits the scale.
  const size = 14 / Math.min(900 / drawing.width, 230 / drawing.height);
  return (
    <figure className="drawing">
      <svg viewBox={`0 0 ${drawing.width} ${drawing.height}`} role="img" aria-label={drawing.title}>
        <defs>
          <marker
            id="head"
            viewBox="0 0 8 8"
            refX="7"
            refY="4"
            markerWidth="7"
            markerHeight="7"
            orient="auto-start-reverse"
          >
            <path d="M0 0L8 4L0 8z" fill="currentColor" />
          </marker>
        </defs>
        {drawing.shapes.map((shape, n) => (
          <Shape key={n} shape={shape} size={size} />
        ))}
      </svg>
      <figcaption className="soft">
        {drawing.title}. <span className="num">{Math.round(drawing.width)} mm</span> across.
      </figcaption>
    </figure>
  );
}

function Shape({ shape: s, size }: { shape: Schemas["ShapeOut"]; size: number }) {
  const hair = size / 9;
  if (s.kind === "box")
    return (
      <rect className={s.tone} x={s.x} y={s.y} width={s.x2 - s.x} height={s.y2 - s.y} strokeWidth={hair} />
    );
  if (s.kind === "round") return <circle className={s.tone} cx={s.x} cy={s.y} r={s.x2} strokeWidth={hair} />;
  if (s.kind === "text")
    return (
      <text
        x={s.x}
        y={s.y}
        fontSize={size}
        textAnchor={s.text.startsWith("▲") ? "start" : s.text.endsWith("▲") ? "end" : "middle"}
      >
        {s.text}
      </text>
    );
  if (s.kind === "arrow")
    return (
      <g className="arrow">
        <line x1={s.x} y1={s.y} x2={s.x2} y2={s.y2} strokeWidth={2 * hair} markerEnd="url(#head)" />
        {s.text && (
          <text x={s.x2 + size} y={s.y + size / 3} fontSize={size}>
            {s.text}
          </text>
        )}
      </g>
    );
  if (s.kind === "measure")
    return (
      <g className="measure">
        <line
          x1={s.x}
          y1={s.y}
          x2={s.x2}
          y2={s.y2}
          strokeWidth={hair}
          markerStart="url(#head)"
          markerEnd="url(#head)"
        />
        <line x1={s.x} y1={s.y - size} x2={s.x} y2={s.y + size / 2} strokeWidth={hair} />
        <line x1={s.x2} y1={s.y - size} x2={s.x2} y2={s.y + size / 2} strokeWidth={hair} />
        <text x={(s.x + s.x2) / 2} y={s.y - size / 3} fontSize={size} textAnchor="middle">
          {s.text}
        </text>
      </g>
    );
  return <line x1={s.x} y1={s.y} x2={s.x2} y2={s.y2} strokeWidth={hair} />;
}
