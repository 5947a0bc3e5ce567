import { Checkbox } from "antd";
import type { Schemas } from "../../api/client";
import { plain } from "../../parts/figures/Num";

interface Props {
  p: Schemas["ProposalOut"];
  take: boolean;
  viewer: boolean;
  onTake: (take: boolean) => void;
}

/** Flow and dead time: what they explain of the error, and whether they are taken before the cells. */
export function Scalars({ p, take, viewer, onTake }: Props) {
  const flow = p.scalars.find((s) => s.name === "injector_flow"),
    dead = p.scalars.find((s) => s.name === "dead_time");
  return flow && dead ? (
    <div className="sheet row">
      <span>
        Scalars first: flow{" "}
        <b className="num">
          {plain(flow.old)} → {plain(flow.new)} cm³/min
        </b>{" "}
        <span className="soft num">
          ({plain(flow.low)}–{plain(flow.high)})
        </span>
        , dead time{" "}
        <b className="num">
          {dead.new > 0 ? "+" : ""}
          {plain(dead.new)} ms
        </b>{" "}
        <span className="soft num">
          ({plain(dead.low)} to {plain(dead.high)})
        </span>
        .
        <span className="soft">
          {" "}
          Together they explain {p.explained} % of the error; limit {p.limits.explains} %. The cells below are
          what remains.
        </span>
      </span>
      {!viewer && (
        <Checkbox checked={take} onChange={(event) => onTake(event.target.checked)}>
          Take them
        </Checkbox>
      )}
    </div>
  ) : (
    <div className="sheet row">
      <span className="soft">
        {p.why_no_scalars}
        {p.split && (
          <>
            {" "}
            They would explain {p.explained} % of the error: flow{" "}
            <span className="num">
              {plain(p.split.flow_percent)} % ({plain(p.split.flow_low)} to {plain(p.split.flow_high)})
            </span>
            , dead time{" "}
            <span className="num">
              {plain(p.split.dead_ms)} ms ({plain(p.split.dead_low)} to {plain(p.split.dead_high)})
            </span>
            , 19 times of 20.
          </>
        )}
      </span>
      {!take && !viewer && (
        <Checkbox checked={take} onChange={(event) => onTake(event.target.checked)}>
          Take scalars first
        </Checkbox>
      )}
    </div>
  );
}
