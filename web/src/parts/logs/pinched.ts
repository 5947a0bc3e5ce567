interface Moves {
  /** Closer by this factor around a place [px from the left]. */
  closer: (factor: number, left: number) => void;
  /** Along by a share of what is in view. */
  along: (share: number) => void;
}
/** Of a notch of the wheel. */
const NOTCH = 0.0025;

/** Wheel with Ctrl (a pad's own pinch sends that) and two fingers: closer; wheel with Shift: along. A bare wheel
 * and one finger up or down are the page's own. Gives what ends it. */
export function pinched(box: HTMLElement, moves: Moves): () => void {
  const fingers = new Map<number, number>();
  let apart = 0;
  const place = (event: MouseEvent) => event.clientX - box.getBoundingClientRect().left;
  const wheel = (event: WheelEvent) => {
    if (event.ctrlKey) moves.closer(Math.exp(event.deltaY * NOTCH), place(event));
    else if (event.shiftKey) moves.along((event.deltaX || event.deltaY) / box.clientWidth);
    else return;
    event.preventDefault();
  };
  const spread = () => {
    const [one, other] = [...fingers.values()];
    return Math.max(1, Math.abs(one - other));
  };
  const down = (event: PointerEvent) => {
    if (event.pointerType !== "touch") return;
    fingers.set(event.pointerId, place(event));
    if (fingers.size === 2) apart = spread();
  };
  const up = (event: PointerEvent) => {
    const was = [...fingers.values()];
    fingers.delete(event.pointerId);
    if (was.length !== 2 || !apart) return;
    moves.closer(apart / Math.max(1, Math.abs(was[0] - was[1])), (was[0] + was[1]) / 2);
    apart = 0;
  };
  const move = (event: PointerEvent) => {
    if (fingers.has(event.pointerId)) fingers.set(event.pointerId, place(event));
  };
  box.style.touchAction = "pan-y";
  box.addEventListener("wheel", wheel, { passive: false });
  box.addEventListener("pointerdown", down);
  box.addEventListener("pointermove", move);
  box.addEventListener("pointerup", up);
  box.addEventListener("pointercancel", up);
  return () => {
    box.removeEventListener("wheel", wheel);
    box.removeEventListener("pointerdown", down);
    box.removeEventListener("pointermove", move);
    box.removeEventListener("pointerup", up);
    box.removeEventListener("pointercancel", up);
  };
}
