import { Button, Input, Select } from "antd";
import { useState } from "react";
import type { KeptLook } from "./useKeptLook";

interface Props {
  rows: string[];
  row: string;
  onRow: (row: string) => void;
  lanes: string[][];
  look: KeptLook;
  keep: (look: KeptLook) => void;
}

/** Which row of lanes is shown: by question, or one of one's own for this kind of vehicle. */
export function OwnRows({ rows, row, onRow, lanes, look, keep }: Props) {
  const [name, setName] = useState("");
  const own = look.rows.map((one) => one.name);
  const add = () => {
    const kept = name.trim();
    if (!kept || rows.includes(kept)) return;
    keep({ ...look, rows: [...look.rows.filter((one) => one.name !== kept), { name: kept, lanes }] });
    setName("");
    onRow(kept);
  };
  return (
    <Select
      aria-label="Row of lanes"
      value={row}
      onChange={onRow}
      style={{ width: 150 }}
      popupMatchSelectWidth={260}
      options={[...own, ...rows].map((value) => ({ value, label: value }))}
      popupRender={(menu) => (
        <>
          {menu}
          <div className="row own-row">
            <Input
              aria-label="Name for these lanes"
              placeholder="Keep these lanes as"
              value={name}
              maxLength={40}
              onChange={(event) => setName(event.target.value)}
              onPressEnter={add}
              onKeyDown={(event) => event.stopPropagation()}
            />
            <Button onClick={add}>Keep</Button>
          </div>
          {own.includes(row) && (
            <Button
              type="text"
              onClick={() => (
                keep({ ...look, rows: look.rows.filter((one) => one.name !== row) }),
                onRow("usual")
              )}
            >
              Take “{row}” away
            </Button>
          )}
        </>
      )}
    />
  );
}
