import type { Schemas } from "../../api/client";
import type { Change, Data } from "./useTaps";

export type Grid = Schemas["GridOut"];

/** What every grid is given: what stands on file, and how what is typed is entered. */
export interface GridProps {
  grid: Grid;
  number: string;
  step: string;
  /** Whether this kit is written and run from here. */
  linked: boolean;
  viewer: boolean;
  busy: boolean;
  enter: (data: Data) => void;
  /** Where each tap is entered at once: what it changes, made upon what stands. */
  tap: (change: Change) => void;
  /** A grid that came another way than by `enter`: what is typed next builds on it. */
  brought: (grid: Grid) => void;
}
