// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import { NumberField } from "@/parts/NumberField";
import { SaveButton, useReds } from "@/parts/reds";

beforeAll(() => import("@/format/parse"));
afterEach(cleanup);

function Form({ onSave }: { onSave: () => void }) {
  const [mass, setMass] = useState<number | null>(250);
  const [reds, withReds] = useReds();
  return withReds(
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onSave();
      }}
    >
      <NumberField label="Mass" kind="mass" step={5} value={mass} onChange={setMass} />
      <SaveButton reds={reds}>Save</SaveButton>
    </form>,
  );
}

test("Nothing is saved while a field is red; the button says which, and saves when mended", async () => {
  const onSave = vi.fn();
  render(<Form onSave={onSave} />);
  const field = screen.getByRole("textbox", { name: "Mass" });
  await userEvent.clear(field);
  await userEvent.type(field, "85 V{Enter}");
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Mend first: Mass" }).disabled).toBe(true);
  expect(onSave).not.toHaveBeenCalled();
  await userEvent.clear(field);
  await userEvent.type(field, "85 g{Enter}");
  expect(onSave).toHaveBeenCalledTimes(1);
});
