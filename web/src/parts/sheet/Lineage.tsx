import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { when } from "../figures/when";

const STEP = 58,
  WIDE = 26;

/** Versions as a tree, oldest on top, with the loads, logs and runs that hang on each; each can be taken out. */
export function Lineage({ number, part, tables }: { number: string; part: string; tables: string[] }) {
  const tree = useQuery({
    queryKey: ["lineage", number, part],
    queryFn: () =>
      take(api.GET("/api/jobs/{number}/sheets/{part}/lineage", { params: { path: { number, part } } })),
  });
  const nodes = tree.data ?? [];
  const place = new Map(nodes.map((node) => [node.id, node]));
  const columns = Math.max(1, ...nodes.map((node) => node.column + 1));
  const x = (column: number) => 14 + column * WIDE;
  const y = (row: number) => 20 + row * STEP;
  return (
    <div className="sheet lineage">
      <span className="head">Versions</span>
      <div className="row" style={{ flexWrap: "nowrap", alignItems: "flex-start" }}>
        <svg width={x(columns)} height={nodes.length * STEP} aria-hidden>
          {nodes.map((node) => {
            const parent = node.parent !== null ? place.get(node.parent) : undefined;
            return (
              <g key={node.id}>
                {parent && (
                  <path
                    d={`M ${x(parent.column)} ${y(parent.row)} C ${x(parent.column)} ${y(node.row) - 20} ${x(node.column)} ${y(parent.row) + 20} ${x(node.column)} ${y(node.row)}`}
                  />
                )}
                <circle cx={x(node.column)} cy={y(node.row)} r={node.round > 0 ? 7 : 5} />
              </g>
            );
          })}
        </svg>
        <ol>
          {nodes.map((node) => (
            <li key={node.id} style={{ height: STEP }}>
              <b className="num">{node.version}</b> {node.note}
              <span className="soft">
                {" "}
                · {node.by}, {when(node.at)}
              </span>
              <div className="soft">
                {[
                  ...node.loads.map((one) => `load ${one}`),
                  ...node.logs.map((one) => `log ${one}`),
                  ...(node.runs ? [`${node.runs} runs`] : []),
                ].join(" · ") || "nothing hangs on it yet"}{" "}
                · <a href={`/api/jobs/${number}/maps/${node.id}/file`}>JSON</a>{" "}
                <a href={`/api/jobs/${number}/maps/${node.id}/workbook`}>workbook</a>{" "}
                <a href={`/api/jobs/${number}/maps/${node.id}/hex`}>HEX</a>
                {tables.map((name) => (
                  <span key={name}>
                    {" "}
                    <a href={`/api/jobs/${number}/maps/${node.id}/table?name=${encodeURIComponent(name)}`}>
                      {name}.csv
                    </a>
                  </span>
                ))}
              </div>
            </li>
          ))}
        </ol>
      </div>
    </div>
  );
}
