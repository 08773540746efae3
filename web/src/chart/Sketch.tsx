import type { Drawing } from "../api/client";

/** A colour as its ground has it: on ink, its lighter sister. */
const ground = (x: { colour: string; onInk: string }) => `light-dark(${x.colour}, ${x.onInk || x.colour})`;

/** A drawing in small, without axes or words: what shape a report has. */
export function Sketch({ drawing }: { drawing: Drawing }) {
  const n = drawing.categories.length;
  const series = drawing.series.filter((s) => s.form !== "ghost" && s.form !== "aim");
  if (n === 0) return <p className="pt-10 text-center text-ink2 text-[13px]">No record meets all conditions.</p>;
  const top = Math.max(...drawing.ticks.map((t) => t.value), 1e-9);
  const low = Math.min(...drawing.ticks.map((t) => t.value), 0);
  const tall = (v: number | undefined | null) => (Math.max(0, v ?? 0) / (top - low)) * 100;
  const lying =
    drawing.kind === "bar" || drawing.kind === "funnel" || drawing.kind === "pie" || drawing.kind === "ring";
  const shown = drawing.categories.slice(0, lying ? 8 : 60);
  const step = 100 / shown.length;
  if (drawing.kind === "line" || drawing.kind === "area") {
    return (
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="h-full w-full" aria-hidden="true">
        {series.map((s) => (
          <polyline
            key={s.name}
            fill="none"
            style={{ stroke: ground(s) }}
            strokeWidth={2.5}
            vectorEffect="non-scaling-stroke"
            points={s.points.map((p, i) => `${step * (i + 0.5)},${100 - tall(p.value)}`).join(" ")}
          />
        ))}
      </svg>
    );
  }
  const stacked = drawing.stacked || drawing.kind === "pie" || drawing.kind === "ring";
  return (
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="h-full w-full" aria-hidden="true">
      {shown.map((c, i) => {
        let at = 0;
        const room = (step * 0.72) / (stacked ? 1 : series.length);
        return series.map((s, k) => {
          const long = tall(s.points[i]?.value);
          const across = step * (i + 0.14) + (stacked ? 0 : k * room);
          const from = stacked ? at : 0;
          at += long;
          const fill = ground(series.length === 1 && c.colour ? c : s);
          const start = drawing.kind === "funnel" ? 50 - long / 2 : from;
          return lying ? (
            <rect key={`${c.label} ${s.name}`} x={start} y={across} width={long} height={room} style={{ fill }} />
          ) : (
            <rect
              key={`${c.label} ${s.name}`}
              x={across}
              y={100 - from - long}
              width={room}
              height={long}
              style={{ fill }}
            />
          );
        });
      })}
    </svg>
  );
}
