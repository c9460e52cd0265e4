// @vitest-environment happy-dom
import { act, cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import { Figure } from "@/parts/Figure";
import { Folded } from "@/parts/Folded";
import { Waiting } from "@/parts/Waiting";

afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const WORKING = {
  title: "Minutes",
  steps: [{ label: "Usable", formula: "Ah × share", numbers: "4 × 0.8 = 3.2 Ah", rule: "" }],
  note: "",
};

test("What is folded is drawn once it is opened, and not before", async () => {
  render(
    <Folded name="As a table">
      <p>inside</p>
    </Folded>,
  );
  expect(screen.queryByText("inside")).toBeNull();
  const details = document.querySelector("details") as HTMLDetailsElement;
  details.open = true;
  act(() => void details.dispatchEvent(new Event("toggle")));
  expect(screen.getByText("inside")).toBeDefined();
});

test("A number opens its working, closes it, and asks for what is not there yet", async () => {
  // its code comes when it is first opened
  await import("@/parts/FigureWorking");
  const onAsk = vi.fn();
  render(
    <Figure working={WORKING} label="Minutes" onAsk={onAsk}>
      14.2
    </Figure>,
  );
  const number = screen.getByRole("button", { name: "14.2 Minutes: show working" });
  expect(screen.queryByRole("dialog")).toBeNull();
  await userEvent.click(number);
  expect((await screen.findByRole("dialog", { hidden: true })).textContent).toContain("3.2 Ah");
  expect(onAsk).toHaveBeenCalledOnce();
  await userEvent.click(number);
  expect(number.getAttribute("aria-expanded")).toBe("false");
});

test("A number without a working is no button", () => {
  render(
    <Figure working={undefined} label="Minutes">
      14.2
    </Figure>,
  );
  expect(screen.queryByRole("button")).toBeNull();
});

test("What takes long says that it goes on", () => {
  vi.useFakeTimers();
  render(<Waiting words="Making the tags…" />);
  expect(document.body.textContent).toBe("Making the tags…");
  act(() => void vi.advanceTimersByTime(3000));
  expect(document.body.textContent).toContain("It takes longer than usual and goes on.");
});
