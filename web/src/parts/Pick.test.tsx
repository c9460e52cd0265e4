// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import { Pick } from "@/parts/Pick";

afterEach(cleanup);

const OPTIONS = Array.from({ length: 500 }, (_, i) => ({
  id: `p${i}`,
  name: `B${i} Hollin 4S`,
  hint: "owned",
}));

function shown(value?: string) {
  const onPick = vi.fn();
  render(
    <>
      <Pick label="Pack" options={OPTIONS} value={value} onPick={onPick} />
      <button type="button">elsewhere</button>
    </>,
  );
  return { onPick, field: screen.getByRole<HTMLInputElement>("combobox", { name: "Pack" }) };
}

test("Typing narrows to what all words fit, and Enter takes the first", async () => {
  const { onPick, field } = shown("p3");
  expect(field.value).toBe("B3 Hollin 4S");
  await userEvent.click(field);
  await userEvent.clear(field);
  await userEvent.type(field, "hollin b42");
  expect(screen.getAllByRole("option").map((o) => o.textContent)[0]).toContain("B42 ");
  expect(onPick).not.toHaveBeenCalled();
  await userEvent.keyboard("{Enter}");
  expect(onPick).toHaveBeenCalledExactlyOnceWith("p42");
});

test("Of five hundred so many are drawn as can be looked through, and the rest is told", async () => {
  const { field } = shown();
  await userEvent.click(field);
  expect(screen.getAllByRole("option").length).toBe(40);
  expect(screen.getByText("and 460 more: type to narrow")).toBeDefined();
});

test("Leaving the field, or Escape, chooses nothing and what was chosen stands there again", async () => {
  const { onPick, field } = shown("p3");
  for (const leave of [
    () => userEvent.click(screen.getByText("elsewhere")),
    () => userEvent.keyboard("{Escape}"),
  ]) {
    await userEvent.click(field);
    await userEvent.type(field, "b42");
    await leave();
    expect(field.value).toBe("B3 Hollin 4S");
  }
  expect(onPick).not.toHaveBeenCalled();
});

test("What nothing fits is told, and Enter does nothing", async () => {
  const { onPick, field } = shown();
  await userEvent.type(field, "zebra");
  expect(screen.getByText("Nothing is called so.")).toBeDefined();
  await userEvent.keyboard("{Enter}");
  expect(onPick).not.toHaveBeenCalled();
  expect(field.value).toBe("zebra");
});

test("The arrows go through the list, and a press takes what it is on", async () => {
  const { onPick, field } = shown();
  await userEvent.type(field, "b49");
  await userEvent.keyboard("{ArrowDown}{ArrowDown}{Enter}");
  await userEvent.type(field, "b7 ");
  await userEvent.click(screen.getAllByRole("option")[0] as HTMLElement);
  expect(onPick.mock.calls).toEqual([["p491"], ["p7"]]);
  expect(field.value).toBe("");
});
