import { useEffect, useRef } from "react";

type Actions = Record<string, (() => void) | undefined>;
type Pressed = Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey" | "target">;

const TYPING = "input, textarea, select, [contenteditable], .ant-modal, .ant-select";

/** What a key does here; nothing where somebody is typing, and Enter on a button is the button's own. */
export function actionOf(event: Pressed, actions: Actions): (() => void) | undefined {
  const target = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.altKey || target.closest(TYPING)) return undefined;
  if (event.key === "Enter" && target.closest("button, a")) return undefined;
  return actions[event.key];
}

/** Single keys, where nobody is typing. */
export function useKeys(actions: Actions) {
  const held = useRef(actions);
  held.current = actions;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const action = actionOf(event, held.current);
      if (action) {
        event.preventDefault();
        action();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
