import { Button, Modal, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Job, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Num } from "../../parts/figures/Num";
import { NewThing } from "./NewThing";

/** Which devices: each held against this vehicle with its reasons; a change shows what it does to the run sheet first. */
export function Kit({ job, viewer }: { job: Job; viewer: boolean }) {
  const number = job.plate.number;
  const path = { params: { path: { number } } };
  const kit = useQuery({
    queryKey: ["kit", number, job.plate.vehicle_key, job.plate.revision],
    queryFn: () => take(api.GET("/api/jobs/{number}/kit", path)),
  });
  const [asked, setAsked] = useState<Schemas["KitIn"] | null>(null);
  const [all, setAll] = useState(false);
  const chosen = kit.data?.devices.filter((device) => device.chosen) ?? [];
  const others = kit.data?.devices.filter((device) => !device.chosen) ?? [];
  const fitting = others.filter((device) => device.verdict !== "stop");
  const keys = chosen.map((device) => device.key);
  const pump = kit.data?.pump ?? "";
  return (
    <>
      <div className="title">
        <h1>Does the kit fit?</h1>
        <span className="soft">
          {!kit.data
            ? "looking at the shelf"
            : chosen.length
              ? chosen.map((device) => `${device.name}: ${device.result}`).join("; ")
              : "no device chosen yet"}
        </span>
      </div>
      {chosen.map((device) => (
        <Device
          key={device.key}
          device={device}
          open={device.verdict !== "go" || device.work.length > 0}
          action={
            !viewer && (
              <Button onClick={() => setAsked({ devices: keys.filter((key) => key !== device.key), pump })}>
                Take off the kit
              </Button>
            )
          }
        />
      ))}
      {!chosen.length && !fitting.length && kit.data && (
        <div className="sheet">
          <b>No device on the shelf is known to fit {job.plate.vehicle}.</b>
          <p className="soft">
            Take one from below, or one that is not on the shelf: its kind and its name are enough to plan.
          </p>
        </div>
      )}
      {(chosen.length ? all : true) &&
        fitting.map((device) => (
          <Device
            key={device.key}
            device={device}
            open={!chosen.length}
            action={
              !viewer && (
                <Button
                  type={chosen.length ? "default" : "primary"}
                  onClick={() => setAsked({ devices: [...keys, device.key], pump })}
                >
                  {chosen.length ? "Add to the kit" : "Take this"}
                </Button>
              )
            }
          />
        ))}
      {all &&
        others
          .filter((device) => device.verdict === "stop")
          .map((device) => (
            <Device
              key={device.key}
              device={device}
              action={
                !viewer && (
                  <Button onClick={() => setAsked({ devices: [...keys, device.key], pump })}>
                    Take it all the same
                  </Button>
                )
              }
            />
          ))}
      {/* Not before what stands above it: a button that moves under a finger is another one's tap. */}
      {kit.data && (
        <>
          {!viewer && <NewThing job={job} kinds={kit.data.kinds} />}
          <div className="sheet row">
            <Button onClick={() => setAll(!all)}>
              {all ? "Only what is chosen" : `Other devices on the shelf (${others.length})`}
            </Button>
            <span className="soft" style={{ marginLeft: 16 }}>
              Fuel pump
            </span>
            <Select
              disabled={viewer}
              style={{ minWidth: 230 }}
              value={pump}
              aria-label="Fuel pump"
              onChange={(key) => setAsked({ devices: keys, pump: key })}
              options={[
                { value: "", label: "the stock pump stays" },
                ...kit.data.pumps.map((item) => ({ value: item.key, label: item.name })),
              ]}
            />
          </div>
        </>
      )}
      {asked && (
        <ChangeKit
          number={number}
          asked={asked}
          names={Object.fromEntries(kit.data!.devices.map((device) => [device.key, device.name]))}
          onClose={() => setAsked(null)}
        />
      )}
    </>
  );
}

function Device({
  device,
  open = false,
  action,
}: {
  device: Schemas["DeviceOut"];
  open?: boolean;
  action: React.ReactNode;
}) {
  const [shown, setShown] = useState(open);
  return (
    <section className={`sheet call ${device.verdict}`} aria-label={`${device.name}: ${device.result}`}>
      <div className="row" style={{ justifyContent: "space-between" }}>
        <span>
          <b style={{ fontSize: 17 }}>{device.name}</b>{" "}
          <span className="soft">
            {device.kind}
            {device.usual && !device.chosen && ", usual on this vehicle"}
            {device.price != null && (
              <>
                , <Num value={device.price} unit="money" />
              </>
            )}
          </span>
        </span>
        <span className="row">
          <span className="word">{device.result.toUpperCase()}</span>
          <Button onClick={() => setShown(!shown)}>{shown ? "Close" : "Reasons"}</Button>
          {action}
        </span>
      </div>
      {device.verdict === "go" && !device.work.length && !shown && (
        <div className="soft">
          {device.reasons.map((reason) => reason.what).join(", ")}: {device.reasons.length} of{" "}
          {device.reasons.length} met.
          {device.not_in_the_box.length > 0 && ` Not in the box: ${device.not_in_the_box.join(", ")}.`}
          {device.will_not_control.length > 0 && ` Will not control: ${device.will_not_control.join(", ")}.`}
        </div>
      )}
      {device.verdict === "stop" && !shown && (
        <div className="soft">{device.reasons.find((reason) => reason.verdict === "stop")?.why}</div>
      )}
      {shown && (
        <table className="plain" style={{ marginTop: 6 }}>
          <tbody>
            {device.reasons.map((reason) => (
              <tr key={reason.what}>
                <td style={{ width: 120 }}>{reason.what}</td>
                <td
                  className={`call ${reason.verdict}`}
                  style={{ border: 0, borderBottom: "1px solid var(--rule)", width: 130 }}
                >
                  <span className="word">{reason.result}</span>
                </td>
                <td>
                  {reason.why}
                  {reason.work && (
                    <div>
                      <b>Do</b> {reason.work}
                    </div>
                  )}
                </td>
              </tr>
            ))}
            {device.not_in_the_box.length > 0 && (
              <tr>
                <td>not in the box</td>
                <td />
                <td>{device.not_in_the_box.join(", ")}</td>
              </tr>
            )}
            {device.will_not_control.length > 0 && (
              <tr>
                <td>will not control</td>
                <td />
                <td>{device.will_not_control.join(", ")}</td>
              </tr>
            )}
            {device.options.length > 0 && (
              <tr>
                <td>worth having</td>
                <td />
                <td>{device.options.join(", ")}</td>
              </tr>
            )}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** What the change does to the run sheet, before it is made: what is done is kept. */
function ChangeKit({
  number,
  asked,
  names,
  onClose,
}: {
  number: string;
  asked: Schemas["KitIn"];
  names: Record<string, string>;
  onClose: () => void;
}) {
  const path = { params: { path: { number } } };
  const told = useQuery({
    queryKey: ["difference", number, asked],
    queryFn: () => take(api.POST("/api/jobs/{number}/kit/difference", { ...path, body: asked })),
  });
  const change = useAct(() => take(api.PUT("/api/jobs/{number}/kit", { ...path, body: asked })), onClose);
  const parts = (
    [
      ["added", "Steps added"],
      ["dropped", "Steps that fall away"],
      ["changed", "Steps written anew"],
      ["kept", "Done already, kept on record"],
    ] as const
  ).filter(([word]) => told.data?.[word].length);
  return (
    <Modal
      open
      onCancel={onClose}
      title={`Kit: ${asked.devices.map((key) => names[key]).join(" + ") || "none"}`}
      okText="Take this kit"
      okButtonProps={{ disabled: !told.data }}
      confirmLoading={change.isPending}
      onOk={() => change.mutate(undefined)}
    >
      {told.data && !parts.length && <p>No step changes.</p>}
      {parts.map(([word, label]) => (
        <div key={word} style={{ marginBottom: 10 }}>
          <span className="head">{label}</span>
          {told.data![word].map((title, n) => (
            <div key={n}>{title}</div>
          ))}
        </div>
      ))}
    </Modal>
  );
}
