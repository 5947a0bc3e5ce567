import { expect, test } from "vitest";
import { actionOf } from "./keys";

const go = () => undefined;
const press = (key: string, inside: string[] = [], more = {}) => ({
  key,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  target: {
    closest: (list: string) => inside.find((one) => list.includes(one)) ?? null,
  } as unknown as EventTarget,
  ...more,
});

test("a key acts where nobody types", () => {
  expect(actionOf(press("n"), { n: go })).toBe(go);
  expect(actionOf(press("x"), { n: go })).toBeUndefined();
});

test.each(["input", "textarea", "[contenteditable]", ".ant-modal", ".ant-select"])(
  "not inside %s",
  (inside) => {
    expect(actionOf(press("n", [inside]), { n: go })).toBeUndefined();
  },
);

test.each(["ctrlKey", "metaKey", "altKey"])("not with %s", (held) => {
  expect(actionOf(press("n", [], { [held]: true }), { n: go })).toBeUndefined();
});

test("Enter on a button is the button's own", () => {
  expect(actionOf(press("Enter", ["button"]), { Enter: go })).toBeUndefined();
  expect(actionOf(press("Enter"), { Enter: go })).toBe(go);
});

test("a choice that was touched last keeps its arrows and Enter, nothing else", () => {
  const radio = (key: string, inside = ["input"]) => {
    const pressed = press(key, inside);
    return { ...pressed, target: { ...pressed.target, type: "radio" } as unknown as EventTarget };
  };
  const actions = { n: go, ArrowLeft: go, Enter: go };
  expect(actionOf(radio("n"), actions)).toBe(go);
  expect(actionOf(radio("ArrowLeft"), actions)).toBeUndefined();
  expect(actionOf(radio("Enter"), actions)).toBeUndefined();
  expect(actionOf(radio("n", ["input", ".ant-modal"]), actions)).toBeUndefined();
});
