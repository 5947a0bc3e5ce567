import { Input, type InputRef } from "antd";
import { forwardRef, useEffect, useImperativeHandle, useRef, useState } from "react";
import { api, take, type ApiError } from "../../api/client";
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
  /** What the server said of this field. */
  wrong?: string;
  disabled?: boolean;
  /** As wide as its place, and no line kept free below. */
  wide?: boolean;
}

/** A field that accepts a unit ("43.5 psi"), shows the canonical value beside, and says what is wrong in words. */
export const Figure = forwardRef<FigureHandle, Props>(function Figure(
  { label, quantity, unit, value, onChange, onEnter, hint, wrong = "", disabled, wide },
  handle,
) {
  const field = useRef<InputRef>(null);
  const [read, setRead] = useState<{ value?: number; wrong?: string }>({});
  const meant = useConvert()(0, unit)[1];
  useImperativeHandle(handle, () => ({ focus: () => field.current?.focus(), unit: meant }), [meant]);
  useEffect(() => {
    // A bare number in the canonical unit needs no reading; the server reads it again when it is entered.
    if (!value.trim() || (meant === unit && /^[-+]?\d+(\.\d+)?$/.test(value.trim()))) return setRead({});
    let live = true;
    const wait = setTimeout(() => {
      take(api.POST("/api/figures", { body: { text: value, quantity, unit: meant } }))
        .then((answer) => live && setRead({ value: answer.value }))
        .catch((error: ApiError) => live && setRead({ wrong: error.message }));
    }, 180);
    return () => ((live = false), clearTimeout(wait));
  }, [value, quantity, meant, unit]);
  const told = read.wrong ?? wrong;
  const own = /[a-zµ°Ω%]/i.test(value); // a unit is typed with it
  return (
    <label style={{ display: "inline-block", width: wide ? "100%" : 280 }}>
      <span className="soft">{label}</span>
      <Input
        ref={field}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        onPressEnter={onEnter}
        disabled={disabled}
        status={told ? "error" : undefined}
        suffix={
          <span className="soft num">
            {own && read.value === undefined
              ? ""
              : read.value === undefined
                ? meant
                : own
                  ? `= ${plain(read.value)} ${unit}`
                  : meant === unit
                    ? meant
                    : `${meant} = ${plain(read.value)} ${unit}`}
          </span>
        }
        aria-label={label}
        className="num"
        size={wide ? undefined : "large"}
      />
      {(told || hint || !wide) && (
        <span
          className="soft"
          role={told ? "alert" : undefined}
          style={{ fontSize: 14, color: told ? "var(--oxide)" : undefined }}
        >
          {told || hint || "\u00a0"}
        </span>
      )}
    </label>
  );
});
