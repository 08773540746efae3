import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas, type TypeInfo } from "../../api/client";
import { useSchema } from "../../api/hooks";
import { anew } from "../../api/keys";
import { typeOf } from "../../fields/fields";
import { count } from "../../ui/figures";
import { Empty, Trouble } from "../../ui/Say";
import { useDo } from "../../ui/useDo";
import { MergeDialog } from "../records/MergeDialog";

type Pair = Schemas["PairBody"];

/** Records of a type that were likely entered twice: compared side by side and made one, or said to be two. */
export function TwinsPage() {
  const { type: key = "" } = useParams();
  const schema = useSchema();
  const type = schema && typeOf(schema, key);
  const [merging, setMerging] = useState<Pair>();
  const client = useQueryClient();
  const pairs = useQuery({
    queryKey: ["duplicates", key],
    enabled: !!type,
    retry: false,
    queryFn: () => ask(api.GET("/api/duplicates/{type}", { params: { path: { type: key } } })),
  });
  const [apart] = useDo(
    async ({ pair: p, on }: { pair: Pair; on: boolean }) => {
      await ask(
        api.PUT("/api/duplicates/{type}/apart", {
          params: { path: { type: key } },
          body: { a: p.a.id, b: p.b.id, on },
        }),
      );
      return { pair: p, on };
    },
    ({ pair, on }) => {
      anew(client, "duplicates");
      if (on)
        toast(`“${pair.a.name}” and “${pair.b.name}” are two`, {
          action: { label: "Undo", onClick: () => apart({ pair, on: false }) },
        });
    },
  );
  if (!schema) return null;
  if (!type) return <p className="text-ink2">There is no record type “{key}”.</p>;
  const many = type.label.toLowerCase();
  return (
    <>
      <p className="text-[13px] text-ink2">
        <Link to={`/records/${key}`} className="hover:underline">
          {type.label}
        </Link>
      </p>
      <h1 className="title text-[26px]">{type.label} entered twice</h1>
      <p className="mb-3 max-w-[72ch] text-ink2">
        Pairs with names that are alike and something else in common. Make them one, with a choice field by field, or
        say that they are two: then they are told no more.
      </p>
      <Trouble error={pairs.error} />
      {pairs.isPending && !pairs.error && <p className="text-ink2">Comparing all {many} …</p>}
      {pairs.data?.length === 0 && (
        <div className="sheet">
          <Empty title={`No two ${many} look alike`}>Bring in more, and look here again.</Empty>
        </div>
      )}
      {!!pairs.data?.length && (
        <>
          <p className="mb-1 text-[13px]" aria-live="polite">
            <strong>{count(pairs.data.length)}</strong> {pairs.data.length === 1 ? "pair" : "pairs"}, the likeliest
            first
          </p>
          <ul className="sheet divide-y divide-line" aria-label="Pairs">
            {pairs.data.map((p) => (
              <li
                key={`${p.a.id} ${p.b.id}`}
                className="grid items-baseline gap-x-4 px-4 py-2 md:grid-cols-[1fr_1fr_1.1fr_auto]"
              >
                <One type={type} {...p.a} />
                <One type={type} {...p.b} />
                <span className="text-[13px] text-ink2">{p.why.join(", ")}</span>
                <span className="flex gap-2">
                  <button type="button" className="btn !h-7" onClick={() => setMerging(p)}>
                    Compare
                  </button>
                  <button type="button" className="btn btn-quiet !h-7" onClick={() => apart({ pair: p, on: true })}>
                    They are two
                  </button>
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {merging && (
        <MergeDialog
          type={type}
          id={String(merging.a.id)}
          name={merging.a.name}
          with={{ id: String(merging.b.id), name: merging.b.name }}
          onClose={() => {
            setMerging(undefined);
            anew(client, "duplicates");
          }}
        />
      )}
    </>
  );
}

const One = ({ type, id, name }: { type: TypeInfo; id: number; name: string }) => (
  <span className="min-w-0 truncate">
    <Link className="link" to={`/records/${type.key}/${id}`}>
      {name}
    </Link>{" "}
    <span className="text-ink3 text-xs">{id}</span>
  </span>
);
