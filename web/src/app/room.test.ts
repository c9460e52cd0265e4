// @vitest-environment happy-dom
import { renderHook } from "@testing-library/react";
import { beforeEach, expect, it } from "vitest";
import { lookForRoom, useRoom } from "@/app/room";

const room = () => renderHook(useRoom).result.current;
beforeEach(() => {
  localStorage.clear();
  lookForRoom();
});

it("says nothing while there is room", () => {
  localStorage.setItem("runs", "x".repeat(4_000_000));
  lookForRoom();
  expect(room()).toBeUndefined();
});

it("says before it is too late that there is little left", () => {
  localStorage.setItem("runs", "x".repeat(4_600_000));
  lookForRoom();
  expect(room()).toBe("nearly");
});

it("says that it is full where something was not kept, or nothing more is", () => {
  lookForRoom(false);
  expect(room()).toBe("full");
  lookForRoom(true, () => {
    throw new DOMException("forbidden");
  });
  expect(room()).toBe("full");
  lookForRoom();
  expect(room()).toBeUndefined();
});
