import { Input, type InputRef } from "antd";
import { forwardRef, useEffect, useImperativeHandle, useRef, useState } from "react";
import { api, take, type ApiError } from "../api/client";
import { useConvert, plain } from "./Num";

export interface FigureHandle {
  focus: () => void;
  /** The unit meant when none is typed. */
  unit: string;
}

interface Props {
  label: string;
  quantity: string;
  unit: string;
  value: string;
  onChange: (text: string) => void;
  onEnter?: () => void;
  hint?: string;
}

/** A field that accepts a unit ("43.5 psi"), shows the canonical value beside, and says what is wrong in words. */
export const Figure = forwardRef<FigureHandle, Props>(function Figure({ label, quantity, unit, value, onChange, onEnter, hint }, handle) {
  const field = useRef<InputRef>(null);
  const [read, setRead] = useState<{ value?: number; wrong?: string }>({});
  const meant = useConvert()(0, unit)[1];
  useImperativeHandle(handle, () => ({ focus: () => field.current?.focus(), unit: meant }), [meant]);
  useEffect(() => {
    if (!value.trim()) return setRead({});
    let live = true;
    const wait = setTimeout(() => {
      take(api.POST("/api/figures", { body: { text: value, quantity, unit: meant } }))
        .then((answer) => live && setRead({ value: answer.value }))
        .catch((error: ApiError) => live && setRead({ wrong: error.message }));
    }, 180);
    return () => ((live = false), clearTimeout(wait));
  }, [value, quantity, meant]);
  return (
    <label style={{ display: "inline-block", width: 280 }}>
      <span className="soft">{label}</span>
      <Input ref={field} value={value} onChange={(event) => onChange(event.target.value)} onPressEnter={onEnter} status={read.wrong ? "error" : undefined} suffix={<span className="soft num">{read.value !== undefined && (meant !== unit || /[a-zµ°Ω%]/i.test(value)) ? `= ${plain(read.value)} ${unit}` : meant}</span>} aria-label={label} className="num" size="large" />
      <span className="soft" style={{ fontSize: 14, color: read.wrong ? "var(--oxide)" : undefined }}>{read.wrong ?? hint ?? "\u00a0"}</span>
    </label>
  );
});
