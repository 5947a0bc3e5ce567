import { Button, Checkbox, Input, Segmented, type InputRef } from "antd";
import { useState, type RefObject } from "react";

export type Operation = "set" | "add" | "multiply" | "percent";
export const OPERATIONS: { value: Operation; label: string; key: string; hint: string }[] = [
  { value: "set", label: "=", key: "=", hint: "set to" },
  { value: "add", label: "+ −", key: "+", hint: "add; a minus takes away" },
  { value: "multiply", label: "×", key: "*", hint: "times" },
  { value: "percent", label: "%", key: "%", hint: "change by percent" },
];

interface Props {
  entry: RefObject<InputRef | null>;
  operation: Operation;
  amount: string;
  unit: string;
  where: string;
  busy: boolean;
  /** A log says something of these cells. */
  ticked: boolean;
  undo: string | null;
  redo: string | null;
  onOperation: (operation: Operation) => void;
  onAmount: (amount: string) => void;
  onEnter: () => void;
  onLeave: () => void;
  onDo: (operation: "equal" | "fill" | "smooth", overMeasured: boolean) => void;
  onUndo: (back: boolean) => void;
}

/** What is done to the range: a figure to set, add, multiply or change by; equal, fill, smooth; undo and redo. */
export function SheetTools(p: Props) {
  const [over, setOver] = useState(false);
  const chosen = OPERATIONS.find((one) => one.value === p.operation);
  return (
    <div className="sheet-tools">
      <Segmented
        value={p.operation}
        onChange={p.onOperation}
        options={OPERATIONS.map((one) => ({ value: one.value, label: one.label, title: one.hint }))}
        aria-label="What is done with the figure"
      />
      <Input
        ref={p.entry}
        value={p.amount}
        onChange={(event) => p.onAmount(event.target.value)}
        onPressEnter={p.onEnter}
        onKeyDown={(event) => {
          if (event.key === "Escape") p.onLeave();
        }}
        suffix={p.operation === "percent" ? "%" : p.operation === "multiply" ? "×" : p.unit}
        aria-label={`${chosen?.hint ?? ""}, ${p.where}`}
        inputMode="decimal"
        style={{ width: 150 }}
      />
      <Button type="primary" onClick={p.onEnter} loading={p.busy} disabled={!p.amount.trim()}>
        Enter
      </Button>
      <span className="row" style={{ gap: 6 }}>
        <Button onClick={() => p.onDo("equal", false)}>Equal</Button>
        <Button onClick={() => p.onDo("fill", false)}>Fill</Button>
        <Button onClick={() => p.onDo("smooth", over)}>Smooth</Button>
        {p.ticked && (
          <Checkbox checked={over} onChange={(event) => setOver(event.target.checked)}>
            measured too
          </Checkbox>
        )}
      </span>
      <span className="row" style={{ gap: 6 }}>
        <Button onClick={() => p.onUndo(true)} disabled={!p.undo} title={p.undo ?? ""}>
          Undo
        </Button>
        <Button onClick={() => p.onUndo(false)} disabled={!p.redo} title={p.redo ?? ""}>
          Redo
        </Button>
      </span>
    </div>
  );
}
