import { Segmented } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { Drawn } from "./Drawn";
import type { Table } from "./useSheet";

/** A table along one axis at the chosen cell, with what the newest log says behind it. */
export function Slice(p: {
  number: string;
  part: string;
  table: Table;
  row: number;
  column: number;
  revision: number;
}) {
  const [along, setAlong] = useState<"row" | "column">("row");
  const { table } = p;
  const flat = table.y.length === 1;
  const row = flat ? "row" : along;
  const at = row === "row" ? table.y[p.row] : table.x[p.column];
  const samples = useQuery({
    queryKey: ["slice", p.number, p.part, table.name, row, at, p.revision],
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/sheets/{part}/slice", {
          params: {
            path: { number: p.number, part: p.part },
            query: { table: table.name, at, along: row },
          },
        }),
      ),
    placeholderData: (before) => before,
  });
  const xs = row === "row" ? table.x : table.y;
  const ys = row === "row" ? table.values[p.row] : table.values.map((line) => line[p.column]);
  const points = samples.data?.points ?? [];
  return (
    <div>
      <div className="row" style={{ justifyContent: "space-between" }}>
        <b>
          {flat
            ? table.title
            : `At ${at} ${row === "row" ? table.y_unit : table.x_unit}, along ${row === "row" ? table.x_text : table.y_text}`}
        </b>
        {!flat && (
          <Segmented
            value={along}
            onChange={setAlong}
            options={[
              { value: "row", label: "along the row" },
              { value: "column", label: "along the column" },
            ]}
          />
        )}
      </div>
      <Drawn
        label={`${table.title}, a slice`}
        xs={xs}
        ys={[...ys, ...points.map((point) => point[1])]}
        xUnit={row === "row" ? table.x_unit : table.y_unit}
        yUnit={table.unit}
      >
        {(frame) => (
          <>
            {points.map((point, n) => (
              <circle key={n} cx={frame.x(point[0])} cy={frame.y(point[1])} r={2} className="sample" />
            ))}
            <polyline
              className="curve"
              points={xs.map((x, n) => `${frame.x(x)},${frame.y(ys[n])}`).join(" ")}
            />
            {xs.map((x, n) => (
              <circle key={x} cx={frame.x(x)} cy={frame.y(ys[n])} r={3.5} className="knot" />
            ))}
          </>
        )}
      </Drawn>
      <p className="soft" style={{ fontSize: 14 }}>
        {samples.data?.log
          ? `Dots: ${points.length} steady samples of ${samples.data.log}, as the value each asks for.`
          : (samples.data?.sentence ?? "")}
      </p>
    </div>
  );
}
