import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../figures/Num";

interface Props {
  log: Schemas["LogOut"];
  open: boolean;
  onClose: () => void;
  onMade: (key: string) => void;
}

/** Channels that the shop makes up: a formula over others, tried on this log before it is kept. */
export function OwnChannel({ log, open, onClose, onMade }: Props) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [formula, setFormula] = useState("");
  const [unit, setUnit] = useState("");
  const body = { name, formula, unit };
  const own = useQuery({
    queryKey: ["own-channels"],
    enabled: open,
    queryFn: () => take(api.GET("/api/own-channels")),
  });
  const tried = useQuery<Schemas["FormulaTriedOut"], ApiError>({
    queryKey: ["tried", log.id, formula, unit],
    enabled: open && formula.trim() !== "",
    queryFn: () => take(api.POST("/api/logs/{log_id}/tried", { params: { path: { log_id: log.id } }, body })),
    retry: false,
    meta: { shown: true },
  });
  const again = () => void client.invalidateQueries({ queryKey: ["log", log.id] });
  const make = useAct(
    () => take(api.POST("/api/own-channels", { params: { query: { log_id: log.id } }, body })),
    (made) => {
      again();
      onMade(`own.${made.id}`);
      onClose();
    },
  );
  const drop = useAct(
    (id: number) => take(api.DELETE("/api/own-channels/{own_id}", { params: { path: { own_id: id } } })),
    again,
  );
  return (
    <Modal title="Own channels" open={open} onCancel={onClose} footer={null} width={720}>
      <div className="stack">
        <label>
          <span className="soft">Name</span>
          <Input
            aria-label="Name of the channel"
            value={name}
            maxLength={60}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        <label>
          <span className="soft">Formula</span>
          <Input
            aria-label="Formula"
            className="num"
            value={formula}
            maxLength={400}
            placeholder="map - baro"
            onChange={(e) => setFormula(e.target.value)}
          />
        </label>
        <label>
          <span className="soft">Shown in </span>
          <Input
            aria-label="Unit"
            className="num"
            style={{ width: 140 }}
            value={unit}
            placeholder="kPa"
            onChange={(e) => setUnit(e.target.value)}
          />
        </label>
        <p className="num" aria-live="polite">
          {tried.error && <span className="wrong">{tried.error.message}</span>}
          {tried.data && !tried.error && (
            <>
              On this log: <Num value={tried.data.least} digits={3} /> to{" "}
              <Num value={tried.data.most} digits={3} unit={unit} />, {tried.data.samples} samples
            </>
          )}
        </p>
        <Button
          type="primary"
          loading={make.isPending}
          disabled={!tried.data || !!tried.error || !name.trim()}
          onClick={() => make.mutate(undefined)}
        >
          Keep it for the shop
        </Button>
        <details>
          <summary>What may stand in a formula</summary>
          <p className="num soft">
            {log.columns
              .filter((one) => one.canonical)
              .map((one) => one.name)
              .join(" · ")}
          </p>
          {own.data?.functions.map((one) => (
            <div className="num soft" key={one}>
              {one}
            </div>
          ))}
          <p className="soft">
            + − * / ** and brackets; a figure with its unit as 3 * kPa. Units are checked: what does not go
            together is said.
          </p>
        </details>
        {own.data?.channels.map((one) => (
          <div className="row" key={one.id}>
            <b>{one.name}</b>
            <span className="num">
              {one.formula}
              {one.unit && ` [${one.unit}]`}
            </span>
            <span className="soft">{one.by}</span>
            {one.may_delete && (
              <Button type="text" onClick={() => drop.mutate(one.id)}>
                Take away
              </Button>
            )}
          </div>
        ))}
      </div>
    </Modal>
  );
}
