import { expect, it } from "vitest";
import { ownedId, ownedTag, tagOf } from "@/format/packId";

it("goes there and back", () => {
  expect(ownedTag(ownedId("07"))).toBe("07");
  expect(tagOf(ownedId("a:b"))).toBe("a:b");
});

it("knows no tag of a pack that is not owned", () => {
  expect(ownedTag("pack:12")).toBeUndefined();
  expect(tagOf("pack:12")).toBe("pack:12");
});
