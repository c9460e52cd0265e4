import { expect, it } from "vitest";
import { carried } from "@/app/stages";

it("takes an owned pack along by the name that each stage has for it", () => {
  expect(carried("/run/$model", { pick: "owned:07" })).toEqual({ pack: "07" });
  expect(carried("/size/$model", { pack: "07" })).toEqual({ pick: "owned:07" });
  expect(carried("/match/$model", { pack: "07" })).toEqual({ pack: "owned:07" });
});

it("takes a pack of the catalogue only where it can be shown", () => {
  expect(carried("/match/$model", { pick: "pack:12" })).toEqual({ pack: "pack:12" });
  expect(carried("/keep/$model", { pick: "pack:12" })).toEqual({});
  expect(carried("/charge/$model", { pick: "owned:07" })).toEqual({});
});

it("opens Match on what Size last showed, and Keep on nothing", () => {
  expect(carried("/match/$model", {}, "owned:03")).toEqual({ pack: "owned:03" });
  expect(carried("/keep/$model", {}, "owned:03")).toEqual({});
});
