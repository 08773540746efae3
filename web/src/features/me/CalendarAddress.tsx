import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { anew } from "../../api/keys";
import { copyText } from "../../ui/copyText";
import { useDo } from "../../ui/useDo";

/** An address by which a calendar shows one's planned activities, given once; and the same as a file. */
export function CalendarAddress() {
  const client = useQueryClient();
  const [address, setAddress] = useState("");
  const [make, busy] = useDo(
    () => ask(api.POST("/api/me/tokens", { body: { name: "My calendar", scopes: ["calendar"], days: 366 } })),
    ({ token }) => {
      setAddress(`${location.origin}/feeds/${token}.ics`);
      anew(client, "my tokens");
    },
  );
  return (
    <div className="max-w-[700px]">
      {address ? (
        <>
          <p className="mb-1">
            Subscribe to this address in your calendar. It is shown only here, holds for a year, and who has it sees
            what you plan; take its token away below to close it.
          </p>
          <div className="flex gap-2">
            <input
              className="input font-mono text-[13px]"
              readOnly
              aria-label="Address for my calendar"
              value={address}
              onFocus={(e) => e.currentTarget.select()}
            />
            <button type="button" className="btn" onClick={() => void copyText(address)}>
              Copy
            </button>
          </div>
        </>
      ) : (
        <p className="flex flex-wrap items-center gap-3">
          <button type="button" className="btn" disabled={busy} onClick={() => make()}>
            An address for my calendar
          </button>
          <a className="link" href="/api/planned.ics" download>
            What I plan, as a file
          </a>
          <a className="link" href="/api/contacts.vcf" download>
            Contacts as cards
          </a>
        </p>
      )}
    </div>
  );
}
