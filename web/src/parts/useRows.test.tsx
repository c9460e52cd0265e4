// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test } from "vitest";
import { useRows } from "@/parts/useRows";

afterEach(cleanup);

function List({ names }: { names: string[] }) {
  const list = useRows<HTMLUListElement>(names.length, 30);
  return (
    <ul ref={list.box} onKeyDown={list.onKeyDown} onFocus={list.onFocus}>
      {list.shown.map((index) => (
        <li key={names[index]} data-index={index}>
          <input type="checkbox" tabIndex={list.tab(index)} aria-label={`mark ${names[index]}`} />
          <button type="button" tabIndex={list.tab(index)}>
            {names[index]}
          </button>
          <input tabIndex={list.tab(index)} aria-label={`note ${names[index]}`} />
        </li>
      ))}
    </ul>
  );
}

const NAMES = ["ant", "bee", "cow", "dog"];
const focused = () =>
  document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.textContent;

test("The tab key stops at the controls of one row, and goes past the others", async () => {
  render(
    <>
      <List names={NAMES} />
      <button type="button">after</button>
    </>,
  );
  const seen: (string | null | undefined)[] = [];
  for (let i = 0; i < 4; i++) {
    await userEvent.tab();
    seen.push(focused());
  }
  expect(seen).toEqual(["mark ant", "ant", "note ant", "after"]);
});

test("Arrows go from row to row on the same control, and along a row, not beyond its ends", async () => {
  render(<List names={NAMES} />);
  screen.getByText("bee").focus();
  await userEvent.keyboard("{ArrowDown}{ArrowDown}{ArrowDown}");
  expect(focused()).toBe("dog");
  await userEvent.keyboard("{ArrowUp}{ArrowLeft}");
  expect(focused()).toBe("mark cow");
  await userEvent.keyboard("{ArrowLeft}");
  expect(focused()).toBe("mark cow");
  await userEvent.keyboard("{PageUp}");
  expect(focused()).toBe("mark ant");
});

test("In a field the arrows are the field's", async () => {
  render(<List names={NAMES} />);
  screen.getByLabelText("note bee").focus();
  await userEvent.keyboard("{ArrowDown}{ArrowRight}");
  expect(focused()).toBe("note bee");
});

test("Where one was the tab key comes back to; a shorter list has its first row again", async () => {
  const { rerender } = render(<List names={NAMES} />);
  await userEvent.click(screen.getByText("cow"));
  await userEvent.click(document.body);
  expect(screen.getByText("cow").tabIndex).toBe(0);
  expect(screen.getByText("ant").tabIndex).toBe(-1);
  rerender(<List names={["ant"]} />);
  expect(screen.getByText("ant").tabIndex).toBe(0);
});
