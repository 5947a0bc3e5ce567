import { Button, Input } from "antd";
import { useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../figures/Num";

/** A word at a moment of a log, and the words that stand there. */
export function Marks({ log, at, onGo }: { log: Schemas["LogOut"]; at: number; onGo: (at: number) => void }) {
  const [word, setWord] = useState("");
  const client = useQueryClient();
  const put = useAct(
    (body: Schemas["MarkAt"]) =>
      take(api.PUT("/api/logs/{log_id}/marks", { params: { path: { log_id: log.id } }, body })),
    () => (setWord(""), void client.invalidateQueries({ queryKey: ["log", log.id] })),
  );
  return (
    <section className="sheet marks" aria-label="Marks">
      <div className="row">
        <span>
          At <Num value={at} unit="s" digits={1} />:
        </span>
        <Input
          aria-label="Word at this moment"
          style={{ width: 240 }}
          value={word}
          maxLength={80}
          onChange={(event) => setWord(event.target.value)}
          onPressEnter={() => put.mutate({ at_s: at, word })}
        />
        <Button onClick={() => put.mutate({ at_s: at, word })} disabled={!word.trim()}>
          Put it there
        </Button>
        <span className="soft">The cursor says where: move it over the lanes first.</span>
      </div>
      {log.marks.map((one) => (
        <div className="row" key={one.at_s}>
          <Button onClick={() => onGo(one.at_s)}>
            <Num value={one.at_s} unit="s" digits={1} />
          </Button>
          <span>{one.word}</span>
          <Button type="text" onClick={() => put.mutate({ at_s: one.at_s, word: "" })}>
            Take away
          </Button>
        </div>
      ))}
    </section>
  );
}
