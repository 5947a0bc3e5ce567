import { Button, Drawer } from "antd";
import type { Schemas } from "../../api/client";
import { LogKeeping } from "./LogKeeping";

const words = (kind: string) => kind.replaceAll("_", " ");

/** What was read of a log: its file, what was understood, guessed and ignored, what was checked. */
export function LogNotes({
  log,
  open,
  onClose,
}: {
  log: Schemas["LogOut"];
  open: boolean;
  onClose: () => void;
}) {
  return (
    <Drawer open={open} onClose={onClose} title="What was read" size={620}>
      <p className="soft">
        SHA-256 <span className="num">{log.sha256.slice(0, 32)}…</span>, {Math.round(log.size / 1000)} kB,{" "}
        {log.source} by {log.by}; <span className="num">{log.rows}</span> rows.
      </p>
      <div className="row" style={{ margin: "8px 0" }}>
        <span>Take it in canonical units:</span>
        <Button href={`/api/logs/${log.id}/table?form=csv`} download>
          CSV
        </Button>
        <Button href={`/api/logs/${log.id}/table?form=parquet`} download>
          Parquet
        </Button>
        <Button href={`/api/logs/${log.id}/table?form=mdf`} download>
          MDF 4
        </Button>
        <Button href={`/api/logs/${log.id}/table?form=workbook`} download>
          Workbook
        </Button>
      </div>
      <LogKeeping log={log} onGone={onClose} />
      <table className="plain">
        <tbody>
          {log.notes.map((note, index) => (
            <tr key={index}>
              <td>
                <b>{note.kind}</b>
              </td>
              <td className="num" style={{ whiteSpace: "normal" }}>
                {note.column}
              </td>
              <td>{note.text}</td>
            </tr>
          ))}
          {!log.notes.length &&
            log.columns.map((c) => (
              <tr key={c.name}>
                <td>{c.label}</td>
                <td className="num">{c.column}</td>
                <td>{c.unit}</td>
              </tr>
            ))}
        </tbody>
      </table>
      <p style={{ marginTop: 14 }}>
        <b>Checked:</b> {log.checked.map(words).join(", ")}.
      </p>
      {log.not_checkable.length > 0 && (
        <p>
          <b>Not checkable:</b>{" "}
          {log.not_checkable
            .map(
              (n) =>
                `${words(n.kind)} (lacks ${n.missing.join(", ")}${n.perhaps.length ? `; perhaps “${n.perhaps.join("”, “")}”: say what it is` : ""})`,
            )
            .join("; ")}
          .
        </p>
      )}
    </Drawer>
  );
}
