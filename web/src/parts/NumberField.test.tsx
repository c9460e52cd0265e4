// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import { STANDARD, setPreference } from "@/format/preferences";
import { NumberField } from "@/parts/NumberField";

// the grammar comes with the first key, and is there on a page at rest
beforeAll(() => import("@/format/parse"));

afterEach(() => {
  cleanup();
  setPreference("mass", STANDARD.mass);
});

type Props = Partial<Parameters<typeof NumberField>[0]>;

function Held({ onChange, ...props }: Props & { onChange: (value: number | null) => void }) {
  const [value, setValue] = useState<number | null>(props.value === undefined ? 420 : props.value);
  const take = (next: number | null) => {
    onChange(next);
    setValue(next);
  };
  return <NumberField label="Pack" kind="mass" step={5} {...props} value={value} onChange={take} />;
}

function shown(props: Props = {}) {
  const onChange = vi.fn();
  render(<Held {...props} onChange={onChange} />);
  return { onChange, field: screen.getByRole<HTMLInputElement>("textbox", { name: "Pack" }) };
}

async function type(field: HTMLElement, text: string) {
  await userEvent.clear(field);
  await userEvent.type(field, text);
}

test("A decimal comma is a point, and what was typed stays as typed while one is in the field", async () => {
  const { onChange, field } = shown();
  await type(field, "12,5");
  expect(onChange).toHaveBeenLastCalledWith(12.5);
  expect(field.value).toBe("12,5");
  await userEvent.tab();
  expect(field.value).toBe("12.5");
});

test("What is no number is told at the field, changes nothing, and stays when one leaves", async () => {
  const { onChange, field } = shown();
  await userEvent.type(field, "x");
  expect(onChange).not.toHaveBeenCalled();
  expect(screen.getByRole("alert").textContent).toBe("“420x” is not a number.");
  expect(field.getAttribute("aria-invalid")).toBe("true");
  await userEvent.tab();
  expect(field.value).toBe("420x");
});

test("Arrows and buttons step from what stands there, not below nothing", async () => {
  const { onChange, field } = shown({ value: 7 });
  field.focus();
  await userEvent.keyboard("{ArrowUp}{ArrowDown}{ArrowDown}{ArrowDown}");
  await userEvent.click(screen.getByRole("button", { name: "More: Pack" }));
  expect(onChange.mock.calls.flat()).toEqual([12, 7, 2, 0, 5]);
});

test("In ounces it is asked and shown, and kept in grams", async () => {
  setPreference("mass", "oz");
  const { onChange, field } = shown({ value: 453.59237 });
  expect(field.value).toBe("16");
  await type(field, "8");
  expect(onChange.mock.calls.at(-1)?.[0]).toBeCloseTo(226.796, 3);
});

test("Left empty it is nothing where that may be, and a fault where it may not", async () => {
  const may = shown({ optional: true });
  await userEvent.clear(may.field);
  expect(may.onChange).toHaveBeenLastCalledWith(null);
  cleanup();
  const must = shown();
  await userEvent.clear(must.field);
  expect(must.onChange).not.toHaveBeenCalled();
  expect(screen.getByRole("alert").textContent).toBe("Enter a number.");
});

test("What the server refuses stands below it; a figure that nobody gave can be said to be so", async () => {
  shown({ problem: "Mass must be from 0.5 to 20000 g, not 420." });
  expect(screen.getByRole("alert").textContent).toContain("must be from");
  cleanup();
  const so = vi.fn();
  shown({ assumed: so });
  await userEvent.click(screen.getByRole("button", { name: "Pack: it is so" }));
  expect(so).toHaveBeenCalledOnce();
});

test("A unit of its own is read, and what was understood stands beside it", async () => {
  const { onChange, field } = shown();
  await type(field, "1,2 kg");
  expect(onChange).toHaveBeenLastCalledWith(1200);
  expect(screen.getByText("→ 1200 g")).toBeTruthy();
  await userEvent.tab();
  expect(field.value).toBe("1200");
});

test("What may be two things is asked, and a press answers", async () => {
  const { onChange, field } = shown();
  await type(field, "250-300 g");
  expect(onChange).not.toHaveBeenLastCalledWith(300);
  await userEvent.click(screen.getByRole("button", { name: "300 g" }));
  expect(onChange).toHaveBeenLastCalledWith(300);
  expect(screen.queryByRole("alert")).toBeNull();
});

test("What looks like a slip is asked: a press takes what was meant, another says it is so", async () => {
  const onSure = vi.fn();
  const asked = { sentence: "420 g hardly goes with it. Did you mean 42 g?", meant: 42, onSure };
  const { onChange, field } = shown({ asked });
  expect(field.getAttribute("aria-invalid")).toBe("true");
  await userEvent.click(screen.getByRole("button", { name: "It is so: Pack" }));
  expect(onSure).toHaveBeenCalledOnce();
  await userEvent.click(screen.getByRole("button", { name: "Yes, 42 g" }));
  expect(onChange).toHaveBeenLastCalledWith(42);
});

test("What is not a number is said before what looks like a slip", async () => {
  const asked = { sentence: "Did you mean 42 g?", meant: 42, onSure: vi.fn() };
  const { field } = shown({ asked });
  await type(field, "many");
  expect(screen.getByRole("alert").textContent).toContain("not a number");
  expect(screen.queryByText(/Did you mean/)).toBeNull();
});
