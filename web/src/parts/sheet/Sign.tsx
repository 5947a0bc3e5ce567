import { Button, Input, Modal } from "antd";
import { useRef, useState, type PointerEvent } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useAct } from "../../api/hooks";
import { said } from "../figures/said";

/** A setting for closed courses only: the statement, a name typed, and a signature drawn or left typed. */
export function Sign(p: { number: string; part: string; setting: string; what: string }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [drawn, setDrawn] = useState("");
  const text = useQuery({
    queryKey: ["statements", p.number],
    enabled: open,
    queryFn: () => take(api.GET("/api/jobs/{number}/statements", { params: { path: { number: p.number } } })),
  });
  const sign = useAct(
    () =>
      take(
        api.POST("/api/jobs/{number}/statements/{part}", {
          params: { path: { number: p.number, part: p.part } },
          body: { setting: p.setting, name, drawn },
        }),
      ),
    () => setOpen(false),
  );
  return (
    <>
      <Button danger onClick={() => setOpen(true)}>
        Ask for the statement
      </Button>
      <Modal
        open={open}
        title="Closed course only"
        okText="Sign"
        onCancel={() => setOpen(false)}
        okButtonProps={{ disabled: !said(name) }}
        confirmLoading={sign.isPending}
        onOk={() => sign.mutate(undefined)}
      >
        <p>
          <b>{p.what}</b>
        </p>
        <p>{text.data?.text}</p>
        <label>
          Name of the owner or driver
          <Input size="large" value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <Pad drawn={drawn} onDrawn={setDrawn} />
        <Button type="text" onClick={() => setDrawn("")}>
          Draw again
        </Button>
      </Modal>
    </>
  );
}

/** A field for a finger or a pen; strokes are kept as moves and lines. */
function Pad({ drawn, onDrawn }: { drawn: string; onDrawn: (drawn: string) => void }) {
  const down = useRef(false);
  const point = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return `${Math.round(event.clientX - box.left)} ${Math.round(event.clientY - box.top)}`;
  };
  return (
    <svg
      width="100%"
      height={120}
      className="pad"
      role="img"
      aria-label="Signature, drawn"
      onPointerDown={(event) => {
        down.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
        onDrawn(`${drawn}M ${point(event)} `);
      }}
      onPointerMove={(event) => down.current && onDrawn(`${drawn}L ${point(event)} `)}
      onPointerUp={() => (down.current = false)}
    >
      <path d={drawn} />
    </svg>
  );
}
