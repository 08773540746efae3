import { useState } from "react";
import { api, ask, type Brief } from "../../api/client";
import { useExplained } from "../../api/hooks";
import { Table } from "../../table/Table";
import { Drawer } from "../../ui/Drawer";

/** The records that are left out for want of an exchange rate: what the last step of the sift took out. */
export function Unrated({ brief }: { brief: Brief }) {
  const [open, setOpen] = useState(false);
  const steps = useExplained(brief, open).data?.sift[0];
  const at = steps?.findIndex((s) => s.what === "rates") ?? -1;
  return (
    <>
      {" "}
      <button type="button" className="link" onClick={() => setOpen(true)}>
        See them
      </button>
      <Drawer
        open={open}
        onClose={() => setOpen(false)}
        title="Left out for want of an exchange rate"
        note="They count once there is a rate of their currency for their day, or shortly before it."
      >
        {at > 0 && (
          <Table
            brief={brief}
            height="calc(100vh - 170px)"
            from={`dropped 0 ${at}`}
            fetch={(from, count) =>
              ask(api.POST("/api/dropped", { body: { brief, part: 0, step: at - 1, from, count } }))
            }
          />
        )}
      </Drawer>
    </>
  );
}
