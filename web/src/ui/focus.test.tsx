import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { show } from "../testing";
import { keepFocus } from "./focus";
import { Modal } from "./Modal";

function Shelf() {
  const [list, setList] = useState(["one", "two", "three"]);
  const [asking, setAsking] = useState(false);
  return (
    <>
      <button type="button" onClick={() => setAsking(true)}>
        Ask
      </button>
      <ul>
        {list.map((x) => (
          <li key={x}>
            <button type="button" onClick={() => setList(list.filter((y) => y !== x))}>
              Remove {x}
            </button>
          </li>
        ))}
      </ul>
      {asking && (
        <Modal title="Sure?" onClose={() => setAsking(false)}>
          <button type="button" onClick={() => setAsking(false)}>
            Yes
          </button>
        </Modal>
      )}
    </>
  );
}

describe("the focus", () => {
  let end: () => void;
  beforeEach(() => {
    end = keepFocus();
  });
  afterEach(() => end());

  it("goes to the neighbour of what was deleted, and to the one before where it was the last", async () => {
    show(<Shelf />);
    await userEvent.click(screen.getByRole("button", { name: "Remove two" }));
    await waitFor(() => expect(document.activeElement?.textContent).toBe("Remove three"));
    await userEvent.keyboard("{Enter}");
    await waitFor(() => expect(document.activeElement?.textContent).toBe("Remove one"));
  });

  it("goes back to where one was when a dialog closes, by Escape or by a choice", async () => {
    show(<Shelf />);
    for (const leave of ["{Escape}", "{Enter}"]) {
      screen.getByRole("button", { name: "Ask" }).focus();
      await userEvent.keyboard("{Enter}");
      await waitFor(() => expect(document.activeElement?.textContent).toBe("Yes"));
      await userEvent.keyboard(leave);
      await waitFor(() => expect(document.activeElement?.textContent).toBe("Ask"));
    }
  });
});
