import { useQuery } from "@tanstack/react-query";
import { api, ask, type Brief } from "../../api/client";
import { Chart } from "../../chart/Chart";
import { Trouble } from "../../ui/Say";
import { points, type Unit } from "./units";

/** How a report stood at the ends of days, weeks or months, as it is placed. */
export function StoodPanel({ brief, unit, lines }: { brief: Brief; unit: Unit; lines: boolean }) {
  const stood = useQuery({
    queryKey: ["stood", brief, unit, lines],
    queryFn: () => ask(api.POST("/api/stood", { body: { brief, unit, count: points[unit], lines } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const s = stood.data;
  if (!s) return stood.error ? <Trouble error={stood.error} /> : <p className="text-ink2">Working it out …</p>;
  return (
    <div aria-busy={stood.isFetching} className="flex h-full flex-col">
      <p className="mb-1 truncate text-[13px] text-ink2" title={s.words}>
        {s.words}
        {s.target && ` · target ${s.target}`}
      </p>
      <div className="min-h-[120px] flex-1">
        {s.drawing ? (
          <Chart drawing={s.drawing} height="100%" />
        ) : (
          <p className="text-ink2">It has no value on some of these days, and is not drawn.</p>
        )}
      </div>
    </div>
  );
}
