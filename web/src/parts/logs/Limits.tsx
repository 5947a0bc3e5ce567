import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useConvert } from "../figures/Num";
import { said } from "../figures/said";
import type { KeptLook } from "./useKeptLook";

interface Props {
  look: KeptLook;
  keep: (look: KeptLook) => void;
  channels: Schemas["WantedOut"][];
}

/** Limits of one's own beside the rules: they sound, and may take the foot off. */
export function Limits({ look, keep, channels }: Props) {
  const [channel, setChannel] = useState<string | null>(null);
  const [above, setAbove] = useState(true);
  const [text, setText] = useState("");
  const [lifts, setLifts] = useState(false);
  // A bare figure is meant in the unit that this tablet shows.
  const shown = useConvert()(0, channels.find((one) => one.name === channel)?.unit ?? "")[1];
  const label = (name: string) => channels.find((one) => one.name === name)?.label ?? name;
  const add = () => {
    if (!channel || !said(text)) return;
    const typed = /[a-zµ°Ω%]/i.test(text) ? text.trim() : `${text.trim()} ${shown}`.trim();
    keep({ ...look, limits: [...look.limits, { channel, above, text: typed, lifts }] });
    setText("");
  };
  return (
    <div className="limits">
      {look.limits.map((one, n) => (
        <div className="row" key={`${one.channel} ${n}`}>
          <span>
            Sounds where <b>{label(one.channel).toLowerCase()}</b> is {one.above ? "above" : "below"}{" "}
            <b className="num">{one.text}</b>
            {one.lifts && ", and the foot comes off"}
          </span>
          <Button onClick={() => keep({ ...look, limits: look.limits.filter((_, at) => at !== n) })}>
            Take away
          </Button>
        </div>
      ))}
      <div className="row">
        <Select
          aria-label="Channel of the limit"
          placeholder="A limit of your own"
          style={{ minWidth: 190 }}
          value={channel}
          onChange={setChannel}
          options={channels.filter((one) => one.there).map((one) => ({ value: one.name, label: one.label }))}
        />
        <Select
          aria-label="Above or below"
          style={{ width: 100 }}
          value={above}
          onChange={setAbove}
          options={[
            { value: true, label: "above" },
            { value: false, label: "below" },
          ]}
        />
        <Input
          aria-label="Figure of the limit"
          className="num"
          style={{ width: 130 }}
          suffix={<span className="soft">{shown}</span>}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onPressEnter={add}
        />
        <Checkbox checked={lifts} onChange={(event) => setLifts(event.target.checked)}>
          foot off
        </Checkbox>
        <Button onClick={add} disabled={!channel || !said(text)}>
          Add
        </Button>
      </div>
    </div>
  );
}
