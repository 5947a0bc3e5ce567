import { memo } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { Num } from "../figures/Num";

/** A cell's story: value, why, who, round by round. */
export const CellStory = memo(function CellStory(p: {
  number: string;
  part: string;
  target: string;
  row: number;
  column: number;
  revision: number;
  unit: string;
}) {
  const story = useQuery({
    queryKey: ["story", p.number, p.part, p.target, p.row, p.column, p.revision],
    queryFn: () =>
      take(
        api.GET("/api/jobs/{number}/sheets/{part}/story", {
          params: {
            path: { number: p.number, part: p.part },
            query: { target: p.target, row: p.row, column: p.column },
          },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <table className="plain story" aria-label="Story of this cell">
      <tbody>
        {story.data?.map((line, n) => (
          <tr key={n}>
            <td className="num">{line.value === null ? "" : <Num value={line.value} unit={p.unit} />}</td>
            <td>{line.why || "base"}</td>
            <td className="soft">
              {line.version || "not kept"} · {line.who}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
});
