import { useEffect, useRef } from "react";

type Actions = Record<string, (() => void) | undefined>;
type Pressed = Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey" | "target">;

const CHOICES = ["radio", "checkbox"];
const TYPING = "input, textarea, select, [contenteditable], .ant-modal, .ant-select";

/** What a key does here; nothing where somebody is typing, and Enter on a button is the button's own. */
export function actionOf(event: Pressed, actions: Actions): (() => void) | undefined {
  const target = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.altKey) return undefined;
  // A choice that was touched last types nothing; its arrows and Enter are its own.
  const choice = CHOICES.includes((target as HTMLInputElement).type) && !target.closest(".ant-modal");
  if (choice ? event.key === "Enter" || event.key.startsWith("Arrow") : target.closest(TYPING))
    return undefined;
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
