import { Button } from "antd";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";

/** A slat that cannot begin yet, or not here: why, and where to go on. */
export function NotYet({
  title,
  sentence,
  to,
  number,
}: {
  title: string;
  sentence: string;
  to?: Pick<Schemas["SlatOut"], "key" | "label">;
  number: string;
}) {
  const go = useNavigate();
  return (
    <>
      <div className="title">
        <h1>{title}</h1>
      </div>
      <div className="sheet row" style={{ justifyContent: "space-between" }}>
        <span style={{ fontSize: 17, flex: "1 1 420px" }}>{sentence}</span>
        {to && (
          <Button type="primary" size="large" onClick={() => void go(`/jobs/${number}/${to.key}`)}>
            To {to.label}
          </Button>
        )}
      </div>
    </>
  );
}
