import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { Drawn } from "./Drawn";
import type { Table } from "./useSheet";

/** A table's surface by lines of equal height. */
export function Heights(p: { number: string; part: string; table: Table; revision: number }) {
  const { table } = p;
  const heights = useQuery({
    queryKey: ["heights", p.number, p.part, table.name, p.revision],
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/sheets/{part}/heights", {
          params: { path: { number: p.number, part: p.part }, query: { table: table.name } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const lines = heights.data?.lines ?? [];
  if (heights.data && !lines.length)
    return <p className="soft">This table is flat, or one row: it has no height lines.</p>;
  const label = (points: number[][]) => points[Math.floor(points.length / 2)];
  return (
    <>
      <Drawn
        label={`${table.title}, height lines`}
        xs={table.x}
        ys={table.y}
        xUnit={table.x_unit}
        yUnit={table.y_unit}
      >
        {(frame) =>
          lines.map((line, n) => (
            <g key={n}>
              <polyline
                className="height"
                points={line.points.map((point) => `${frame.x(point[0])},${frame.y(point[1])}`).join(" ")}
              />
              <text
                className="height-text"
                x={frame.x(label(line.points)[0])}
                y={frame.y(label(line.points)[1]) - 3}
                textAnchor="middle"
              >
                {line.value}
              </text>
            </g>
          ))
        }
      </Drawn>
      <p className="soft" style={{ fontSize: 14 }}>
        Lines of equal {table.title}, {table.unit}.
      </p>
    </>
  );
}
