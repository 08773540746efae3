import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useForm } from "react-hook-form";
import { expect, it, vi } from "vitest";
import { Refused } from "../api/client";
import { show } from "../testing";
import { FormTrouble, SelectField, TextField, useSend } from "./form";

const done = vi.fn();

function Boat({ send }: { send: (v: { name: string; berths: number }) => Promise<string> }) {
  const form = useForm({ defaultValues: { name: "", berths: 2 } });
  const { submit, busy } = useSend(form, send, done);
  return (
    <form onSubmit={submit}>
      <TextField form={form} name="name" label="Name" help="As it is painted" />
      <SelectField
        form={form}
        name="berths"
        label="Berths"
        options={[
          { value: 1, label: "one" },
          { value: 2, label: "two" },
        ]}
      />
      <FormTrouble form={form} />
      <button type="submit" disabled={busy}>
        Save
      </button>
    </form>
  );
}

const refused = (errors?: { pointer: string; message: string }[]) =>
  new Refused(422, { title: "Refused", detail: "Not so.", status: 422, errors } as never);
const save = () => userEvent.click(screen.getByRole("button", { name: "Save" }));

it("sends what was typed, numbers as numbers, once", async () => {
  let come: (v: string) => void = () => undefined;
  const send = vi.fn(
    () =>
      new Promise<string>((r) => {
        come = r;
      }),
  );
  show(<Boat send={send} />);
  await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "Auk");
  await userEvent.selectOptions(screen.getByRole("combobox", { name: "Berths" }), "one");
  await save();
  await save();
  expect(send).toHaveBeenCalledTimes(1);
  expect(send).toHaveBeenCalledWith({ name: "Auk", berths: 1 });
  come("kept");
  await waitFor(() => expect(done).toHaveBeenLastCalledWith("kept"));
});

it("says what is refused beside the field that it names, and puts one there", async () => {
  show(<Boat send={() => Promise.reject(refused([{ pointer: "/name", message: "It is taken." }]))} />);
  await save();
  const name = screen.getByRole("textbox", { name: "Name" });
  await waitFor(() => expect(name.getAttribute("aria-invalid")).toBe("true"));
  expect(document.activeElement).toBe(name);
  const described = (name.getAttribute("aria-describedby") ?? "")
    .split(" ")
    .map((id) => document.getElementById(id)?.textContent);
  expect(described).toEqual(["It is taken.", "As it is painted"]);
});

it("says for the form as a whole what names no field of it, and is sent again", async () => {
  const send = vi
    .fn()
    .mockRejectedValueOnce(refused([{ pointer: "/folder", message: "Gone." }]))
    .mockResolvedValueOnce("kept");
  show(<Boat send={send} />);
  await save();
  expect((await screen.findByRole("alert")).textContent).toBe("Not so.");
  await save();
  await waitFor(() => expect(send).toHaveBeenCalledTimes(2));
  await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
});
