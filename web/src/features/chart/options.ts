import type { EChartsCoreOption } from "echarts/core";
import type { Drawing } from "../../api/client";

type Tokens = { ink: string; ink2: string; line: string; paper: string };

const font = '"Atkinson Hyperlegible Next Variable", sans-serif';

/** What ECharts is told to draw for a drawing. Nothing is worked out here; every text and number is the drawing's. */
export function options(d: Drawing, share: boolean, t: Tokens, width: number): EChartsCoreOption {
  const base: EChartsCoreOption = {
    animation: !matchMedia("(prefers-reduced-motion: reduce)").matches,
    animationDuration: 250,
    textStyle: { fontFamily: font, color: t.ink },
    aria: { enabled: false },
    tooltip: {
      trigger: "item",
      backgroundColor: t.ink,
      borderWidth: 0,
      textStyle: { color: t.paper, fontFamily: font },
      formatter: (p: unknown) => tip(d, p as { seriesIndex: number; dataIndex: number }),
    },
  };
  if (d.kind === "pie") return { ...base, series: [pie(d, share, t)] };
  if (d.kind === "funnel") return { ...base, ...funnel(d, share, t) };
  return { ...base, ...cartesian(d, share, t, width) };
}

function tip(d: Drawing, p: { seriesIndex: number; dataIndex: number }): string {
  const pt = d.series[p.seriesIndex]?.points[p.dataIndex];
  if (!pt) return "";
  const esc = (s: string) => s.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
  const detail = d.categories[p.dataIndex]?.detail;
  return [pt.say, pt.share && `${pt.share} of all`, d.series.length === 1 ? detail : ""]
    .filter(Boolean)
    .map((s) => esc(s as string))
    .join("<br>");
}

const shown = (p: Drawing["series"][0]["points"][0], share: boolean) => (share ? p.share || p.label : p.label);

function pie(d: Drawing, share: boolean, t: Tokens) {
  return {
    type: "pie",
    radius: ["0%", "72%"],
    itemStyle: { borderColor: t.paper, borderWidth: 2 },
    label: {
      color: t.ink,
      formatter: (p: { dataIndex: number }) => `${d.categories[p.dataIndex].label}\n${shown(d.series[0].points[p.dataIndex], share)}`,
    },
    labelLine: { lineStyle: { color: t.line } },
    data: d.series[0]?.points.map((p, i) => ({
      value: p.value ?? 0,
      name: d.categories[i].label,
      itemStyle: { color: d.categories[i].colour },
    })),
  };
}

/** Each stage as wide as its value, drawn in a slight taper of its own, so that a stage that grows does not look like one that shrinks. */
function funnel(d: Drawing, share: boolean, t: Tokens): EChartsCoreOption {
  const points = d.series[0]?.points ?? [];
  const most = d.ticks[d.ticks.length - 1]?.value || 1;
  return {
    grid: { left: 150, right: 20, top: 8, bottom: 8, outerBoundsMode: "none" },
    xAxis: { type: "value", show: false, min: -most / 2, max: most / 2 },
    yAxis: { type: "category", show: false, inverse: true, data: d.categories.map((c) => c.label) },
    series: [
      {
        type: "custom",
        data: points.map((p, i) => [p.value ?? 0, i]),
        renderItem: (at: { dataIndex: number }, room: Room) => funnelPart(d, share, t, at.dataIndex, room),
      },
    ],
  };
}

type Room = { coord: (v: number[]) => number[]; size: (v: number[]) => number[] };

function funnelPart(d: Drawing, share: boolean, t: Tokens, at: number, api: Room) {
  const p = d.series[0].points[at];
  const half = Math.max(2, api.size([Math.max(0, p.value ?? 0), 0])[0] / 2);
  const [x, y] = api.coord([0, at]);
  const tall = Math.min(36, api.size([0, 1])[1] / 2 - 3);
  const label = shown(p, share);
  const inside = half * 2 > label.length * 9 + 12;
  return {
    type: "group",
    children: [
      {
        type: "polygon",
        shape: {
          points: [
            [x - half, y - tall],
            [x + half, y - tall],
            [x + half * 0.93, y + tall],
            [x - half * 0.93, y + tall],
          ],
        },
        style: { fill: d.categories[at].colour },
      },
      {
        type: "text",
        style: {
          text: label,
          x: inside ? x : x + half + 8,
          y,
          align: inside ? "center" : "left",
          verticalAlign: "middle",
          fill: inside ? "#fff" : t.ink,
          stroke: inside ? "rgba(25,26,31,.5)" : "none",
          lineWidth: inside ? 2 : 0,
          font: `700 13px ${font}`,
        },
      },
    ],
  };
}

function cartesian(d: Drawing, share: boolean, t: Tokens, width: number): EChartsCoreOption {
  const lying = d.kind === "bar";
  const line = d.kind === "line";
  const many = d.series.length > 1;
  const few = !lying && d.categories.length <= 8;
  const ticks = d.ticks;
  const category = {
    type: "category",
    data: d.categories.map((c) => c.label),
    inverse: lying,
    axisLine: { lineStyle: { color: t.line } },
    axisTick: { show: false },
    axisLabel: {
      color: t.ink,
      interval: lying || few ? 0 : "auto",
      hideOverlap: !few,
      lineHeight: 15,
      width: lying ? 130 : few ? Math.max(24, (width - 72) / d.categories.length - 4) : undefined,
      overflow: lying ? "truncate" : "break",
    },
  };
  const value = {
    type: "value",
    min: ticks[0]?.value,
    max: ticks[ticks.length - 1]?.value,
    interval: ticks.length > 1 ? ticks[1].value - ticks[0].value : undefined,
    axisLabel: { color: t.ink2, formatter: (v: number) => ticks.find((k) => Math.abs(k.value - v) < 1e-6)?.label ?? "" },
    splitLine: { lineStyle: { color: t.line } },
  };
  return {
    grid: { left: 8, right: lying ? 56 : 16, top: many ? 36 : 22, bottom: 4, outerBoundsMode: "same", outerBoundsContain: "axisLabel" },
    legend: many
      ? { top: 0, left: 0, itemWidth: 10, itemHeight: 10, icon: "rect", textStyle: { color: t.ink2, fontFamily: font } }
      : undefined,
    xAxis: lying ? value : category,
    yAxis: lying ? category : value,
    series: d.series.map((s) => ({
      type: line ? "line" : "bar",
      name: s.name,
      stack: d.stacked && !line ? "all" : undefined,
      barMaxWidth: 44,
      symbolSize: 7,
      lineStyle: { width: 2.5 },
      itemStyle: { color: s.colour, borderRadius: d.stacked || line ? 0 : lying ? [0, 3, 3, 0] : [3, 3, 0, 0] },
      label: {
        show: !many && d.categories.length <= 14,
        position: line ? "top" : lying ? "right" : "top",
        color: t.ink2,
        formatter: (p: { dataIndex: number }) => shown(s.points[p.dataIndex], share),
      },
      labelLayout: { hideOverlap: true },
      data: s.points.map((p) => p.value),
    })),
  };
}
