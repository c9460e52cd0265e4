// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import { STANDARD, setPreference } from "@/format/preferences";
import { TimeField } from "@/parts/TimeField";

afterEach(() => {
  cleanup();
  setPreference("time", STANDARD.time);
});

type Props = { onChange: (time: string | undefined) => void; optional?: boolean };

function Held({ onChange, optional = false }: Props) {
  const [value, setValue] = useState("09:00");
  const take = (time: string | undefined) => {
    onChange(time);
    setValue(time ?? "");
  };
  return <TimeField label="From" value={value} onChange={take} optional={optional} />;
}

function shown(props: Props) {
  render(<Held {...props} />);
  return screen.getByRole<HTMLInputElement>("textbox", { name: "From" });
}

test("It is read as people write it, and shown as its reader prefers once it is left", async () => {
  setPreference("time", "12");
  const onChange = vi.fn();
  const field = shown({ onChange });
  expect(field.value).toBe("9 am");
  await userEvent.clear(field);
  await userEvent.type(field, "14.30");
  expect(onChange).toHaveBeenLastCalledWith("14:30");
  expect(field.value).toBe("14.30");
  await userEvent.tab();
  expect(field.value).toBe("2:30 pm");
});

test("What is no time changes nothing, is told, and stays", async () => {
  const onChange = vi.fn();
  const field = shown({ onChange });
  await userEvent.clear(field);
  expect(onChange).not.toHaveBeenCalled();
  await userEvent.type(field, "soon");
  await userEvent.tab();
  expect(field.value).toBe("soon");
  expect(field.getAttribute("aria-invalid")).toBe("true");
  expect(screen.getByRole("alert").textContent).toContain("14:30");
  expect(onChange).not.toHaveBeenCalled();
});

test("An optional one can be emptied", async () => {
  const onChange = vi.fn();
  await userEvent.clear(shown({ onChange, optional: true }));
  expect(onChange).toHaveBeenLastCalledWith(undefined);
  expect(screen.queryByRole("alert")).toBeNull();
});
