import { App, Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";

/** The starter shelf: makerless things by geometry and public standards, put in or taken off with one tap. */
export function StarterShelf() {
  const { message } = App.useApp();
  const starter = useQuery({ queryKey: ["starter"], queryFn: () => take(api.GET("/api/starter-shelf")) });
  const said = (done: { sentence: string }) => void message.success(done.sentence, 5);
  const add = useAct(() => take(api.PUT("/api/starter-shelf")), said);
  const remove = useAct(() => take(api.DELETE("/api/starter-shelf")), said);
  if (!starter.data) return null;
  const { here, items } = starter.data;
  return (
    <div style={{ marginTop: 14 }}>
      <span className="head">Starter shelf</span>
      <p className="soft" style={{ fontSize: 14 }}>
        {here} of {items} here: no make, by geometry and standards
      </p>
      {here < items && (
        <Button block loading={add.isPending} onClick={() => add.mutate(undefined)}>
          Put it in
        </Button>
      )}
      {here > 0 && (
        <Button
          block
          style={{ marginTop: 6 }}
          loading={remove.isPending}
          onClick={() => remove.mutate(undefined)}
        >
          Take it off
        </Button>
      )}
    </div>
  );
}
