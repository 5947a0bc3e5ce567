import { Alert, Button, Drawer } from "antd";
import { useEffect, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import type { Job, Schemas } from "../../api/client";
import { drop, openOutbox, useAway, useKept, type Kept } from "../../away/outbox";
import { sendKept, worthTrying } from "../../away/send";
import { BUILD, takeNewer } from "../../away/worker";
import { time } from "../figures/when";

const EVERY_MS = 4000;
const WORDS: Record<string, string> = {
  done: "step done",
  answers: "answer",
  grid: "readings",
  undo: "step taken back",
  notes: "note",
  intake: "Intake",
  photos: "picture",
};

/** What waits on this tablet and whether the server is away; sent by itself as soon as it is back. */
export function Outbox({ session }: { session: Schemas["SessionOut"] }) {
  const mine = useKept();
  const away = useAway();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  useEffect(() => void openOutbox(session.username ?? ""), [session.username]);
  useEffect(() => {
    const attempt = async () => {
      if (worthTrying() && (await sendKept()) > 0) void client.invalidateQueries();
    };
    const tick = setInterval(() => void attempt(), EVERY_MS);
    addEventListener("online", attempt);
    return () => (clearInterval(tick), removeEventListener("online", attempt));
  }, [client]);
  const refused = mine.filter((entry) => entry.refused).length;
  const older = BUILD && session.build && session.build !== BUILD;
  return (
    <>
      {(away || mine.length > 0) && (
        <button className="quiet away" onClick={() => setOpen(true)} aria-live="polite">
          {away ? "Server away" : mine.length > refused ? "Sending" : "Look"}
          {mine.length > refused && ` · ${mine.length - refused} not sent yet`}
          {refused > 0 && ` · ${refused} refused`}
        </button>
      )}
      {older && (
        <button className="quiet away" onClick={() => void takeNewer()}>
          Older than the server: take the new version
        </button>
      )}
      <Drawer open={open} onClose={() => setOpen(false)} title="Kept on this tablet" size={460}>
        {away && (
          <Alert
            type="warning"
            title="The server does not answer. What you see is as it was last; what you enter is kept here and sent when it is back."
            style={{ marginBottom: 12 }}
          />
        )}
        {!mine.length && <p className="soft">Everything is sent.</p>}
        {mine.map((entry) => (
          <Line key={entry.id} entry={entry} client={client} />
        ))}
      </Drawer>
    </>
  );
}

function Line({ entry, client }: { entry: Kept; client: ReturnType<typeof useQueryClient> }) {
  const job = client.getQueryData<Job>(["job", entry.job]);
  const title = job?.steps.find((step) => step.key === entry.step)?.title ?? entry.step;
  return (
    <div style={{ padding: "8px 0", borderBottom: "1px solid var(--rule)" }}>
      <b>
        Job {entry.job}: {WORDS[entry.act] ?? entry.act}
      </b>{" "}
      {title}
      <div className="soft">
        {time(entry.at)} ·{" "}
        {entry.refused ? <span style={{ color: "var(--oxide)" }}>{entry.refused}</span> : "not sent yet"}
      </div>
      {entry.refused && (
        <Button style={{ marginTop: 6 }} onClick={() => void drop(entry.id)}>
          I have seen it: take it off
        </Button>
      )}
    </div>
  );
}
