import { describe, expect, it } from "vitest";
import { OUTLIVES, outlives } from "./kept";

describe("what outlives its page", () => {
  it("is every small write, and nothing that is only asked", () => {
    for (const method of ["POST", "PUT", "PATCH", "DELETE"]) {
      expect(outlives({ method })).toBe(true);
      expect(outlives({ method, body: '{"value":12.5}' })).toBe(true);
    }
    expect(outlives({ method: "GET" })).toBe(false);
    expect(outlives()).toBe(false);
  });

  it("is no body that a browser would refuse to hold", () => {
    expect(outlives({ method: "PUT", body: "x".repeat(OUTLIVES) })).toBe(false);
    expect(outlives({ method: "PUT", body: new Blob(["x"]) })).toBe(false);
  });
});
