import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Brief } from "../../api/client";
import { useMe, useSchema } from "../../api/hooks";
import { Chart } from "../../chart/Chart";
import { Trouble } from "../../ui/Say";
import { Moved } from "./Moved";

/** What moved in a report since a day, as it is placed: the sentence and the bridge. A step opens its records. */
export function MovedPanel({ brief, since }: { brief: Brief; since: NonNullable<Brief["since"]> }) {
  const schema = useSchema();
  const today = useMe().data?.today;
  const [step, setStep] = useState<string>();
  const asked = { ...brief, since };
  const moves = useQuery({
    queryKey: ["moves", asked],
    queryFn: () => ask(api.POST("/api/moves", { body: { brief: asked } })),
    retry: false,
    placeholderData: (was) => was,
  });
  const m = moves.data;
  if (!m) return moves.error ? <Trouble error={moves.error} /> : <p className="text-ink2">Working it out …</p>;
  return (
    <div aria-busy={moves.isFetching} className="flex h-full flex-col">
      <p className="mb-2 font-semibold">{m.text}</p>
      <div className="min-h-[180px] flex-1">
        <Chart drawing={m.drawing} height="100%" onMark={(marks) => setStep(marks[0]?.rows[0])} />
      </div>
      {step && schema && today && (
        <Moved schema={schema} brief={asked} today={today} begun={step} onClose={() => setStep(undefined)} />
      )}
    </div>
  );
}
