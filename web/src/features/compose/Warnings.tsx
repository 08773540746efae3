import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { api, ask, type Brief, type Report, type Schemas } from "../../api/client";
import { Table } from "../../table/Table";
import { Drawer } from "../../ui/Drawer";
import { tell } from "../../ui/tell";
import { ClosedAt, useClosed } from "../boards/ClosedAt";

/**
 * What could mislead in a report, folded to one line that opens it all, each with what to do. A warning dismissed for a
 * kept report stays away.
 */
export function Warnings({
  list,
  report,
  composing,
  onChange,
}: {
  list: Schemas["WarningBody"][];
  report?: Report;
  composing?: boolean;
  onChange: (b: Brief) => void;
}) {
  const client = useQueryClient();
  const [gone, setGone] = useState<string[]>([]);
  const [shown, setShown] = useState<Schemas["WarningBody"]>();
  const dismissed = useQuery({
    queryKey: ["dismissed", report?.id],
    enabled: !!report,
    queryFn: () => ask(api.GET("/api/reports/{id}/dismissed", { params: { path: { id: report?.id as number } } })),
  });
  const { mutate: forget } = useMutation({
    mutationFn: ({ id, code }: { id: number; code: string }) =>
      ask(api.PUT("/api/reports/{id}/dismissed", { params: { path: { id } }, body: { code } })),
    onSuccess: (_, { id }) => client.invalidateQueries({ queryKey: ["dismissed", id] }),
    onError: tell,
  });
  const closed = useClosed(composing ? undefined : report);
  const left = list.filter((w) => !gone.includes(w.code) && !dismissed.data?.includes(w.code));
  const count = left.length + (closed.length ? 1 : 0);
  if (count === 0) return null;
  const dismiss = (code: string) => {
    setGone([...gone, code]);
    if (report?.mayChange) forget({ id: report.id, code });
  };
  return (
    <>
      <Popover.Root>
        <Popover.Trigger className="folded">
          <strong aria-hidden="true">!</strong>
          <span className="sr-only">Warning: </span>
          <span className="min-w-0 truncate">
            {closed.length ? "Some who come to it cannot read it." : left[0].text}
          </span>
          {count > 1 && <span className="shrink-0 font-semibold">and {count - 1} more</span>}
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            className="pop w-[520px] max-w-[calc(100vw-24px)] p-2"
            align="end"
            sideOffset={6}
            collisionPadding={12}
            aria-label="Warnings"
          >
            {report && <ClosedAt report={report} />}
            <ul>
              {left.map((w) => (
                <li key={w.code} className="border-line border-b px-2 py-1.5 text-[13px] last:border-0">
                  <p>{w.text}</p>
                  <p className="mt-0.5 flex gap-4">
                    {w.do && w.brief && (
                      <button
                        type="button"
                        className="link"
                        onClick={() => (w.show ? setShown(w) : w.brief && onChange(w.brief))}
                      >
                        {w.do}
                      </button>
                    )}
                    <button
                      type="button"
                      className="link text-ink2"
                      title={report?.mayChange ? "For this report, for everyone" : "For now"}
                      onClick={() => dismiss(w.code)}
                    >
                      Dismiss
                    </button>
                  </p>
                </li>
              ))}
            </ul>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      <Drawer open={!!shown} onClose={() => setShown(undefined)} title="The records it is about" note={shown?.text}>
        {shown?.brief && <Table brief={shown.brief} height="calc(100vh - 190px)" />}
      </Drawer>
    </>
  );
}
