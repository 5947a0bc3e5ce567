import { useEffect, useState } from "react";

/** False in the first frame: what lies below the fold waits for it, so that what is on top stands at once. */
export function useSettled(): boolean {
  const [settled, setSettled] = useState(false);
  useEffect(() => {
    const soon = setTimeout(() => setSettled(true), 30);
    return () => clearTimeout(soon);
  }, []);
  return settled;
}
