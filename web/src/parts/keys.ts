import { useEffect, useRef } from "react";

/** Single keys, where nobody is typing. */
export function useKeys(actions: Record<string, (() => void) | undefined>) {
  const held = useRef(actions);
  held.current = actions;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target.closest("input, textarea, select, [contenteditable], .ant-modal, .ant-select");
      if (event.ctrlKey || event.metaKey || event.altKey || typing) return;
      if (event.key === "Enter" && target.closest("button, a")) return;
      const action = held.current[event.key];
      if (action) {
        event.preventDefault();
        action();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
