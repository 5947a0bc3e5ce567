import { Button, Checkbox, Input, Segmented, type InputRef } from "antd";
import { memo, useImperativeHandle, useRef, useState, type Ref } from "react";

export type Operation = "set" | "add" | "multiply" | "percent";
export const OPERATIONS: { value: Operation; label: string; key: string; hint: string }[] = [
  { value: "set", label: "=", key: "=", hint: "set to" },
  { value: "add", label: "+ −", key: "+", hint: "add; a minus takes away" },
  { value: "multiply", label: "×", key: "*", hint: "times" },
  { value: "percent", label: "%", key: "%", hint: "change by percent" },
];

/** A figure is begun from the cells: with its operation, where that was chosen too. */
export interface Entry {
  type: (operation: Operation | null, text: string) => void;
}

const CHOICES = OPERATIONS.map((one) => ({ value: one.value, label: one.label, title: one.hint }));

interface Props {
  entry: Ref<Entry>;
  unit: string;
  where: string;
  /** A log says something of these cells. */
  ticked: boolean;
  undo: string | null;
  redo: string | null;
  onEnter: (operation: Operation, amount: string) => void;
  onLeave: () => void;
  onDo: (operation: "equal" | "fill" | "smooth", overMeasured: boolean) => void;
  onUndo: (back: boolean) => void;
}

/** What is done to the range: a figure to set, add, multiply or change by; equal, fill, smooth; undo and redo. */
export const SheetTools = memo(function SheetTools(p: Props) {
  const [over, setOver] = useState(false);
  const [operation, setOperation] = useState<Operation>("set");
  const [amount, setAmount] = useState("");
  const field = useRef<InputRef>(null);
  useImperativeHandle(
    p.entry,
    () => ({
      type: (chosen, text) => {
        if (chosen) setOperation(chosen);
        if (text) setAmount(text);
        field.current?.focus();
      },
    }),
    [],
  );
  const enter = () => {
    if (!amount.trim()) return;
    p.onEnter(operation, amount);
    setAmount("");
  };
  const chosen = OPERATIONS.find((one) => one.value === operation);
  return (
    <div className="sheet-tools">
      <Segmented
        value={operation}
        onChange={setOperation}
        options={CHOICES}
        aria-label="What is done with the figure"
      />
      <Input
        ref={field}
        value={amount}
        onChange={(event) => setAmount(event.target.value)}
        onPressEnter={enter}
        onKeyDown={(event) => {
          if (event.key !== "Escape") return;
          setAmount("");
          p.onLeave();
        }}
        suffix={operation === "percent" ? "%" : operation === "multiply" ? "×" : p.unit}
        aria-label={`${chosen?.hint ?? ""}, ${p.where}`}
        inputMode="decimal"
        style={{ width: 150 }}
      />
      <Button type="primary" onClick={enter} disabled={!amount.trim()}>
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
});
