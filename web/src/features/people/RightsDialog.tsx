import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useSubjects } from "../../api/hooks";
import { anew } from "../../api/keys";
import { Modal } from "../../ui/Modal";
import { Trouble } from "../../ui/Say";
import { tell } from "../../ui/tell";
import { useDo } from "../../ui/useDo";

type Holder = Schemas["HolderBody"];
const keyOf = (h: { kind: string; id: number }) => `${h.kind} ${h.id}`;

/** What people and teams may do for others besides what comes with their role, each right a column. */
export function RightsDialog({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const given = useQuery({ queryKey: ["rights"], queryFn: () => ask(api.GET("/api/rights")) });
  const subjects = useSubjects();
  // Who was picked and has none yet.
  const [added, setAdded] = useState<Holder[]>([]);
  const again = () => anew(client, "rights", "me");
  const [set, busy] = useDo(
    (h: Holder) =>
      ask(
        api.PUT("/api/rights/{kind}/{id}", {
          params: { path: { kind: h.kind, id: h.id } },
          body: { rights: h.rights, version: given.data?.version ?? 0 },
        }),
      ),
    again,
    (e) => {
      tell(e);
      again();
    },
  );
  const rights = given.data?.rights ?? [];
  const held = given.data?.holders ?? [];
  const list = [...held, ...added.filter((a) => !held.some((h) => keyOf(h) === keyOf(a)))];
  const others = subjects.filter(
    (s) => (s.kind === "team" || s.kind === "person") && !list.some((h) => keyOf(h) === keyOf(s)),
  );
  return (
    <Modal title="Rights one by one" width={980} onClose={onClose}>
      <p className="mb-3 max-w-[76ch] text-[13px] text-ink2">
        What a person or a whole team may do besides what their role lets them. Composers make reports and bring in
        files; administrators do everything, and they alone say who sees what. Who looks after people cannot give rights
        that they do not have.
      </p>
      <Trouble error={given.error} />
      {list.length > 0 && (
        <div className="sheet mb-3 overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr className="border-ink border-b align-bottom">
                <th className="th px-3 py-2 text-left">Who</th>
                {rights.map((r) => (
                  <th key={r.key} className="th max-w-28 px-2 py-2 text-left !whitespace-normal">
                    {r.words}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {list.map((h) => (
                <tr key={keyOf(h)} className="border-line border-b last:border-0">
                  <th scope="row" className="whitespace-nowrap px-3 py-1.5 text-left font-semibold">
                    {h.name || "somebody who is no more"}
                    {h.kind === "team" && <span className="ml-1 font-normal text-ink2">team</span>}
                  </th>
                  {rights.map((r) => (
                    <td key={r.key} className="px-2">
                      <input
                        type="checkbox"
                        aria-label={`${h.name}: ${r.words}`}
                        checked={h.rights.includes(r.key)}
                        disabled={busy}
                        onChange={(e) =>
                          set({
                            ...h,
                            rights: e.target.checked ? [...h.rights, r.key] : h.rights.filter((k) => k !== r.key),
                          })
                        }
                      />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <label className="flex items-center gap-2">
        Give rights to
        <select
          className="input !w-64"
          value=""
          onChange={(e) => {
            const s = others.find((s) => keyOf(s) === e.target.value);
            if (s) setAdded([...added, { kind: s.kind as Holder["kind"], id: s.id, name: s.name, rights: [] }]);
          }}
        >
          <option value="">a team or a person …</option>
          {others.map((s) => (
            <option key={keyOf(s)} value={keyOf(s)}>
              {s.name}
              {s.kind === "team" ? " (team)" : ""}
            </option>
          ))}
        </select>
      </label>
    </Modal>
  );
}
