import type uPlot from "uplot";
import type { Palette } from "../../theme/tokens";
import { plain } from "./Num";

/** How an axis of a drawing looks. */
export const axisOf = (palette: Palette) => ({
  stroke: palette.soft,
  grid: { stroke: palette.rule, width: 1 },
  ticks: { stroke: palette.rule },
  font: "13px IBM Plex Mono",
  labelFont: "14px Atkinson Hyperlegible",
  values: (_u: uPlot, marks: number[]) => marks.map((mark) => plain(mark)),
});
