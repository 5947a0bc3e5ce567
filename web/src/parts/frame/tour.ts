/** Whether the tour was taken or passed over, by person, on this tablet; and asking for it again. */
const SEEN = "ventmap.tour";
const listeners = new Set<() => void>();

export const tourSeen = (who: string) => localStorage.getItem(`${SEEN}.${who}`) === "1";
export const tourDone = (who: string) => localStorage.setItem(`${SEEN}.${who}`, "1");
export const askTour = () => listeners.forEach((listener) => listener());
export const onTourAsked = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};
