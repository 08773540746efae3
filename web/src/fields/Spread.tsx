import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { count } from "../ui/figures";

/** How a number's values are spread, with an edge to set or take away between any two bars. */
export function Spread({
  start,
  path,
  edges,
  onChange,
}: {
  start: string;
  path: string;
  edges: string[];
  onChange: (edges: string[]) => void;
}) {
  const plain = !path.startsWith("own.") && !start.startsWith("~");
  const bins = useQuery({
    queryKey: ["spread", start, path],
    queryFn: () => ask(api.GET("/api/spread", { params: { query: { start, path } } })),
    enabled: plain,
    retry: false,
  });
  const list = bins.data ?? [];
  if (!plain || list.length === 0) return null;
  const most = Math.max(...list.map((b) => b.count), 1);
  const same = (a: string, b: string) => Number(a) === Number(b);
  const toggle = (edge: string) => {
    const has = edges.some((e) => same(e, edge));
    onChange((has ? edges.filter((e) => !same(e, edge)) : [...edges, edge]).sort((a, b) => Number(a) - Number(b)));
  };
  return (
    <div
      role="group"
      className="mt-2 flex h-[92px] items-end"
      aria-label="How the values are spread; press between two bars to set an edge"
    >
      {list.map((b, i) => {
        const on = i > 0 && edges.some((e) => same(e, b.from));
        return (
          <div key={b.from} className="flex h-full min-w-0 flex-1 items-end">
            {i > 0 && (
              <button
                type="button"
                aria-pressed={on}
                aria-label={`Edge at ${count(Number(b.from))}`}
                title={count(Number(b.from))}
                className="relative h-full w-[9px] shrink-0 hover:bg-amber-soft"
                onClick={() => toggle(b.from)}
              >
                <span
                  className={`absolute inset-y-0 left-[4px] border-l-2 ${on ? "border-[var(--amber)]" : "border-transparent"}`}
                />
                {on && <span className="absolute -bottom-px left-[1px] h-[8px] w-[8px] rotate-45 bg-amber" />}
              </button>
            )}
            <div
              className="min-w-0 flex-1 rounded-t-[2px] bg-[var(--sea)]"
              title={`${b.from ? `from ${count(Number(b.from))}` : ""}${b.to ? ` under ${count(Number(b.to))}` : ""}: ${count(b.count)}`}
              style={{ height: `${Math.max(b.count > 0 ? 3 : 0, (b.count / most) * 86)}%` }}
            />
          </div>
        );
      })}
    </div>
  );
}
