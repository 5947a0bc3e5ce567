import { Button, Input } from "antd";
import { useState } from "react";
import { said } from "../figures/said";

/** What was set or what a device reads back, in words. */
export function Words({
  busy,
  blocked = false,
  was,
  hint,
  onDone,
}: {
  busy: boolean;
  blocked?: boolean;
  was: string;
  hint: string;
  onDone: (words: string) => void;
}) {
  const [text, setText] = useState(was);
  return (
    <div style={{ marginBottom: 12 }}>
      <Input.TextArea
        value={text}
        onChange={(event) => setText(event.target.value)}
        autoSize={{ minRows: 3, maxRows: 10 }}
        aria-label="What was set or read back"
        placeholder={hint}
      />
      <Button
        type="primary"
        size="large"
        style={{ marginTop: 8 }}
        loading={busy}
        disabled={blocked || !said(text)}
        onClick={() => onDone(text)}
      >
        Keep it, next step
      </Button>
    </div>
  );
}
