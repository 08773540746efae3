import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, ask, type Brief, type Schemas } from "../../api/client";
import { anew } from "../../api/keys";
import { TypedSentence } from "../../brief/TypedSentence";
import { TextField } from "../../ui/form";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";

type Word = Schemas["WordBody"];

/** The organisation's own words for some of its records, which may be typed like the names of record types. */
export function WordsSettings() {
  const client = useQueryClient();
  const words = useQuery({ queryKey: ["words"], queryFn: () => ask(api.GET("/api/settings/words")) });
  const [adding, setAdding] = useState(false);
  const [save] = useDo(
    ({ words: next }: { words: Word[]; said: string }) =>
      ask(api.PUT("/api/settings/words", { body: { words: next, version: words.data?.version } })),
    (_, { said }) => {
      toast(said);
      setAdding(false);
      anew(client, "words", "typed", "typed-next");
    },
    (e) => {
      tell(e);
      anew(client, "words");
    },
  );
  if (!words.data) return <Trouble error={words.error} />;
  const list = words.data.words;
  return (
    <div className="sheet max-w-[760px] p-4">
      {list.length === 0 && <p className="text-ink2">There are none yet.</p>}
      <ul aria-label="Words">
        {list.map((w) => (
          <li key={w.name} className="flex items-baseline gap-3 border-line border-b py-1.5 last:border-0">
            <strong>{w.name}</strong>
            <span className="mr-auto text-ink2 text-[13px]">{w.text}</span>
            <button
              type="button"
              className="btn btn-quiet !px-2"
              aria-label={`Remove ${w.name}`}
              onClick={() => save({ words: list.filter((x) => x !== w), said: `“${w.name}” means nothing any more` })}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="btn mt-3" onClick={() => setAdding(true)}>
        Another word
      </button>
      {adding && (
        <NewWord
          onClose={() => setAdding(false)}
          onAdd={(name, brief) =>
            save({ words: [...list, { name, brief }], said: `“${name}” can be typed from now on` })
          }
        />
      )}
    </div>
  );
}

function NewWord({ onAdd, onClose }: { onAdd: (name: string, brief: Brief) => void; onClose: () => void }) {
  const form = useForm({ defaultValues: { name: "" } });
  const lacks = (message: string) => form.setError("name", { message }, { shouldFocus: true });
  return (
    <Modal title="A word of your own" width={640} onClose={onClose}>
      <TextField form={form} name="name" label="The word, in the plural" maxLength={60} placeholder="leads" />
      <p className="mb-1 font-semibold">The records that it means</p>
      <TypedSentence
        example="customers where kind is Prospect"
        action="Keep the word"
        onRead={(b) => {
          const name = form.getValues("name").trim();
          if (!name) return lacks("Say first what the word is.");
          if (!b.start || !b.filter)
            return lacks("Say which of the records it means, as “customers where kind is Prospect”.");
          onAdd(name, { version: 1, start: b.start, filter: b.filter } as Brief);
        }}
      />
      <div className="flex justify-end">
        <Dialog.Close className="btn btn-quiet">Not now</Dialog.Close>
      </div>
    </Modal>
  );
}
