import { Button, Input, Modal, Select } from "antd";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError, type Schemas } from "../../api/client";
import { useAct } from "../../api/hooks";
import { Figure } from "../figures/Figure";
import { Num, plain, useConvert } from "../figures/Num";
import { Help } from "../frame/Help";
import { said } from "../figures/said";
import { day } from "../figures/when";

type Rule = Schemas["RuleOut"];

/** Every school and threshold: default, reason, the shop's own value, who changed it and when. */
export function HouseRules({ lead }: { lead: boolean }) {
  const [find, setFind] = useState("");
  const [changing, setChanging] = useState<Rule | null>(null);
  const rules = useQuery({ queryKey: ["house-rules"], queryFn: () => take(api.GET("/api/house-rules")) });
  const rows =
    rules.data?.filter((rule) =>
      `${rule.area} ${rule.text} ${rule.reason}`.toLowerCase().includes(find.toLowerCase()),
    ) ?? [];
  const areas = [...new Set(rows.map((rule) => rule.area))];
  return (
    <>
      <div className="title">
        <h1>House rules</h1>
        <span className="soft">
          {rules.data?.filter((rule) => rule.changed_by).length ?? 0} of {rules.data?.length ?? 0} are the
          shop's own. A job keeps the rules it was opened under.{!lead && " The lead changes them."}
        </span>
        <div className="end">
          <Help chapter="the-shop" about="house rules" />
          <Input
            style={{ width: 200 }}
            value={find}
            onChange={(event) => setFind(event.target.value)}
            placeholder="find a rule"
            aria-label="Find a rule"
          />
        </div>
      </div>
      {areas.map((area) => (
        <div className="sheet" key={area}>
          <span className="head">{area}</span>
          <table className="plain">
            <tbody>
              {rows
                .filter((rule) => rule.area === area)
                .map((rule) => (
                  <tr key={rule.key}>
                    <td style={{ width: "34%" }}>{rule.text}</td>
                    <td style={{ width: 170 }}>
                      <b>
                        <Num value={rule.value} unit={rule.unit} />
                      </b>
                      {rule.changed_by && (
                        <div className="soft" style={{ fontSize: 14 }}>
                          default <Num value={rule.default} unit={rule.unit} />
                        </div>
                      )}
                    </td>
                    <td className="soft">
                      {rule.changed_by ? (
                        <>
                          {rule.changed_reason}{" "}
                          <span style={{ whiteSpace: "nowrap" }}>
                            · {rule.changed_by}, {day(rule.changed_at!)}
                          </span>
                        </>
                      ) : (
                        rule.reason
                      )}
                    </td>
                    <td className="r">{lead && <Button onClick={() => setChanging(rule)}>Change</Button>}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        </div>
      ))}
      {rules.data && !rows.length && <p className="sheet">No rule has these words.</p>}
      {changing && <ChangeRule rule={changing} onClose={() => setChanging(null)} />}
    </>
  );
}

function ChangeRule({ rule, onClose }: { rule: Rule; onClose: () => void }) {
  const client = useQueryClient();
  const convert = useConvert();
  // In the unit set of this tablet; the server takes it back into the rule's own unit.
  const shown = (figure: number | string) =>
    rule.quantity && typeof figure === "number"
      ? plain(convert(figure, rule.unit)[0]).replace("\u202f", "")
      : String(figure);
  const [value, setValue] = useState(() => shown(rule.value));
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState("");
  const save = useAct<void, Rule[]>(
    () =>
      take(
        api.PUT("/api/house-rules/{key}", {
          params: { path: { key: rule.key } },
          body: { value, reason, unit: rule.quantity ? convert(0, rule.unit)[1] : "" },
        }),
      ).catch((error: ApiError) => {
        setWrong(error.message);
        throw error;
      }),
    (rows) => (client.setQueryData(["house-rules"], rows), onClose()),
  );
  return (
    <Modal
      open
      onCancel={onClose}
      title={rule.text}
      okText="Change the rule"
      onOk={() => save.mutate()}
      confirmLoading={save.isPending}
      okButtonProps={{ disabled: !said(reason) }}
    >
      <p className="soft">
        Default <Num value={rule.default} unit={rule.unit} />: {rule.reason}.
      </p>
      <div className="row" style={{ margin: "10px 0" }}>
        {rule.choices.length ? (
          <Select
            style={{ minWidth: 240 }}
            value={value}
            onChange={setValue}
            aria-label="Value"
            options={rule.choices.map((choice) => ({
              value: choice,
              label: choice + (choice === rule.default ? " (default)" : ""),
            }))}
          />
        ) : rule.quantity ? (
          <Figure label="Value" quantity={rule.quantity} unit={rule.unit} value={value} onChange={setValue} />
        ) : (
          <Input
            className="num"
            style={{ width: 160 }}
            value={value}
            onChange={(event) => setValue(event.target.value)}
            suffix={rule.unit}
            aria-label="Value"
          />
        )}
        <Button onClick={() => setValue(shown(rule.default))}>Back to the default</Button>
      </div>
      <Input.TextArea
        rows={2}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        placeholder="Why: stands beside the rule"
        aria-label="Reason"
      />
      {wrong && (
        <p role="alert" style={{ color: "var(--oxide)", marginTop: 6 }}>
          {wrong}
        </p>
      )}
    </Modal>
  );
}
