import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";
import { when } from "../figures/when";

/** Where I am signed in; a tablet that was lost is signed out from here. */
export function SignedIn() {
  const client = useQueryClient();
  const rows = useQuery({ queryKey: ["sessions"], queryFn: () => take(api.GET("/api/sessions")) });
  const end = useAct(
    (id: number) => take(api.DELETE("/api/sessions/{session_id}", { params: { path: { session_id: id } } })),
    (got) => client.setQueryData(["sessions"], got),
  );
  return (
    <div className="sheet" style={{ maxWidth: 860, marginTop: 12 }}>
      <h2>Signed in at</h2>
      <table className="plain">
        <tbody>
          {rows.data?.map((row) => (
            <tr key={row.id}>
              <td className="num">{row.address}</td>
              <td className="soft">{row.browser}</td>
              <td>{when(row.at)}</td>
              <td className="r">
                {row.here ? (
                  "here"
                ) : (
                  <Button onClick={() => end.mutate(row.id)} loading={end.isPending}>
                    Sign it out
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
