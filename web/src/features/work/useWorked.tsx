import { useCallback, useMemo, useRef, useState } from "react";
import { useNavigate, useNavigationType } from "react-router";
import { api, ask, type Brief, type TypeInfo } from "../../api/client";
import { type Cell, type Chosen, noneChosen, type Work } from "../../table/work";
import { useDo } from "../../ui/useDo";
import { CellEditor } from "./CellEditor";
import { cellsOf } from "./cells";
import { takeBack } from "./takeBack";
import { useUndo } from "./useUndo";

/**
 * What makes a table of records of a type one that is worked in: which are chosen, where one is, what is edited, and what
 * can be taken back. from is the list that its records are opened from, where they stand in its order.
 */
export function useWorked(type: TypeInfo | undefined, from: Brief | undefined) {
  const go = useNavigate();
  const done = useUndo();
  const [chosen, setChosen] = useState<Chosen>(noneChosen);
  // Who comes back to a list comes back to the place that they left.
  const kept = `at ${location.pathname}${location.search}`;
  const again = useNavigationType() === "POP" && !!from;
  const [at, setAt] = useState<Cell | undefined>(() => (again ? placeAt(kept) : undefined));
  const [editing, setEditing] = useState(false);
  const now = useRef(at);
  now.current = at;
  const fieldOf = useCallback(
    (column: { field: string }) =>
      type?.written ? type.fields.find((f) => f.key === column.field && f.written) : undefined,
    [type],
  );
  const [paste] = useDo(
    (rows: { id: number; values: Record<string, string> }[]) =>
      ask(api.POST("/api/records/{type}/paste", { params: { path: { type: type?.key ?? "" } }, body: { rows } })),
    (changed) =>
      done({
        words: changed.length ? `Pasted: ${changed.length} values changed` : "Pasted: all of it was so already",
        back: () => (changed.length ? takeBack(type?.key ?? "", changed) : Promise.resolve(undefined)),
      }),
  );
  const work = useMemo<Work>(
    () => ({
      chosen,
      onChoose: setChosen,
      at,
      onAt: (next) => {
        setEditing(false);
        setAt(next);
        if (next && from) sessionStorage.setItem(`at ${location.pathname}${location.search}`, JSON.stringify(next));
      },
      editing,
      onEdit: (cell, _, column) => {
        const can = !!fieldOf(column);
        setAt(cell);
        setEditing(can);
        return can;
      },
      editor: (row, column) => {
        const field = fieldOf(column);
        if (!field || !type) return undefined;
        return (
          <CellEditor
            key={`${row.id} ${field.key}`}
            type={type}
            field={field}
            id={row.id}
            shown={row.cells[at?.column ?? 0]?.text ?? ""}
            onDone={(edit) => {
              // One may be in another cell by now: then that one is left alone.
              if (now.current === at) {
                setEditing(false);
                document.querySelector<HTMLElement>("[role=grid]")?.focus();
              }
              if (edit?.changed.length)
                done({
                  words: `${field.label} of ${row.cells[0]?.text || `number ${row.id}`} set${edit.words ? ` to ${edit.words}` : ""}`,
                  back: () => takeBack(type.key, edit.changed),
                });
            }}
          />
        );
      },
      onOpen: (row, at) => go(`/records/${type?.key}/${row.id}`, from && { state: { list: { brief: from, at } } }),
      from,
      onPaste: (text, rows, columns) => {
        const lines = cellsOf(text).slice(0, rows.length);
        const sent = lines.map((line, i) => ({
          id: Number(rows[i].id),
          values: Object.fromEntries(
            line.flatMap((cell, c) => {
              const column = columns[c];
              return column ? [[column.field, cell]] : [];
            }),
          ),
        }));
        if (type?.written && sent.length) paste(sent);
      },
    }),
    [chosen, at, editing, fieldOf, type, done, go, from, paste],
  );
  /** Lets everything go, as for another list: what is not seen is not chosen. */
  const calm = useCallback(() => {
    setChosen(noneChosen);
    setAt(undefined);
    setEditing(false);
  }, []);
  return { work, chosen, setChosen, done, calm };
}

/** The cell that was left, nothing where that cannot be read. */
function placeAt(key: string): Cell | undefined {
  try {
    const at = JSON.parse(sessionStorage.getItem(key) ?? "null") as Cell | null;
    return at && Number.isInteger(at.row) && Number.isInteger(at.column) ? at : undefined;
  } catch {
    return undefined;
  }
}
