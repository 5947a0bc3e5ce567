import type { Schemas } from "../../api/client";
import { Num } from "../figures/Num";

/** Which job, which vehicle, with what, for what. */
export function Plate({ plate }: { plate: Schemas["Plate"] }) {
  return (
    <div className="plate">
      <span className="number">{plate.number}</span>
      <b>{plate.vehicle}</b>
      {plate.practice && <span className="practice">practice</span>}
      <span>
        <span className="k">Reg</span>
        <span className="num">{plate.registration || "–"}</span>
      </span>
      <span>
        <span className="k">Kit</span>
        {plate.kit}
      </span>
      <span>
        <span className="k">Goal</span>
        {plate.goal}
        {plate.power_goal_kw != null && (
          <>
            , <Num value={plate.power_goal_kw} unit="kW" />
          </>
        )}
      </span>
      <span>
        <span className="k">Fuel</span>
        {plate.petrol && plate.ron == null ? (
          "not said yet"
        ) : plate.petrol ? (
          <>
            {plate.ron} RON, <Num value={100 * plate.ethanol} unit="% ethanol" digits={0} />
          </>
        ) : (
          "diesel"
        )}
      </span>
      <span>
        <span className="k">Barometer</span>
        <Num value={plate.barometer_kpa} unit="kPa" />
      </span>
    </div>
  );
}
