import { fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { show } from "../testing";
import { letterOf, onePress, setLetters } from "./letters";

const press = (el: Element, init: KeyboardEventInit) => {
  let got: string | undefined;
  const hear = (e: KeyboardEvent) => {
    got = letterOf(e);
  };
  window.addEventListener("keydown", hear);
  fireEvent.keyDown(el, init);
  window.removeEventListener("keydown", hear);
  return got;
};

describe("single letters", () => {
  beforeEach(() => setLetters(true));
  afterEach(() => setLetters(true));

  it("mean something on the page, and nothing in menus, fields and with other keys", () => {
    show(
      <>
        <p>page</p>
        <input aria-label="field" />
      </>,
    );
    expect(press(screen.getByText("page"), { key: "C" })).toBe("c");
    expect(press(screen.getByText("page"), { key: "c", ctrlKey: true })).toBeUndefined();
    expect(press(screen.getByText("page"), { key: "c", repeat: true })).toBeUndefined();
    expect(press(screen.getByRole("textbox"), { key: "c" })).toBeUndefined();
    const menu = document.body.appendChild(document.createElement("div"));
    menu.setAttribute("role", "menu");
    expect(press(menu, { key: "c" }), "the view behind a menu stays").toBeUndefined();
    expect(press(screen.getByText("page"), { key: "c" })).toBeUndefined();
    menu.remove();
  });

  it("can be turned off", () => {
    show(<p>page</p>);
    setLetters(false);
    expect(press(screen.getByText("page"), { key: "c" })).toBeUndefined();
  });
});

describe("a key that is held", () => {
  it("presses a button once", () => {
    const end = onePress();
    const act = vi.fn();
    show(
      <button type="button" onClick={act}>
        Arrange
      </button>,
    );
    const held = fireEvent.keyDown(screen.getByRole("button"), { key: "Enter", repeat: true });
    expect(held, "the browser makes no press of it").toBe(false);
    expect(fireEvent.keyDown(screen.getByRole("button"), { key: "Enter" })).toBe(true);
    end();
  });
});
