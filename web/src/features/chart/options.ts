import type { EChartsCoreOption } from "echarts/core";
import type { Drawing } from "../../api/client";

type Tokens = { ink: string; ink2: string; line: string; paper: string };

const font = '"Atkinson Hyperlegible Next Variable", sans-serif';

/** What ECharts is told to draw for a drawing. Nothing is worked out here; every text and number is the drawing's. */
export function options(d: Drawing, share: boolean, t: Tokens): EChartsCoreOption {
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
  if (d.kind === "funnel") return { ...base, series: [funnel(d, share)] };
  return { ...base, ...cartesian(d, share, t) };
}

function tip(d: Drawing, p: { seriesIndex: number; dataIndex: number }): string {
  const pt = d.series[p.seriesIndex]?.points[p.dataIndex];
  if (!pt) return "";
  const esc = (s: string) => s.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
  const detail = d.categories[p.dataIndex]?.detail;
  return [pt.say, pt.share && `${pt.share} of all`, d.series.length === 1 ? detail : ""].filter(Boolean).map((s) => esc(s as string)).join("<br>");
}

const shown = (p: Drawing["series"][0]["points"][0], share: boolean) => (share ? p.share || p.label : p.label);

function pie(d: Drawing, share: boolean, t: Tokens) {
  return {
    type: "pie",
    radius: ["0%", "72%"],
    itemStyle: { borderColor: t.paper, borderWidth: 2 },
    label: { color: t.ink, formatter: (p: { dataIndex: number }) => `${d.categories[p.dataIndex].label}\n${shown(d.series[0].points[p.dataIndex], share)}` },
    labelLine: { lineStyle: { color: t.line } },
    data: d.series[0]?.points.map((p, i) => ({ value: p.value ?? 0, name: d.categories[i].label, itemStyle: { color: d.categories[i].colour } })),
  };
}

function funnel(d: Drawing, share: boolean) {
  return {
    type: "funnel",
    sort: "none",
    left: 150,
    right: 24,
    top: 8,
    bottom: 8,
    gap: 6,
    minSize: "6%",
    label: { position: "inside", color: "#fff", fontWeight: 700, fontSize: 13, textBorderColor: "rgba(25,26,31,.45)", textBorderWidth: 2, formatter: (p: { dataIndex: number }) => shown(d.series[0].points[p.dataIndex], share) },
    itemStyle: { borderWidth: 0 },
    emphasis: { label: { fontSize: 13 } },
    data: d.series[0]?.points.map((p, i) => ({ value: p.value ?? 0, name: d.categories[i].label, itemStyle: { color: d.categories[i].colour } })),
  };
}

function cartesian(d: Drawing, share: boolean, t: Tokens): EChartsCoreOption {
  const lying = d.kind === "bar";
  const line = d.kind === "line";
  const many = d.series.length > 1;
  const ticks = d.ticks;
  const category = {
    type: "category",
    data: d.categories.map((c) => c.label),
    inverse: lying,
    axisLine: { lineStyle: { color: t.line } },
    axisTick: { show: false },
    axisLabel: { color: t.ink, interval: lying ? 0 : "auto", hideOverlap: true, width: lying ? 130 : undefined, overflow: "truncate" },
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
    legend: many ? { top: 0, left: 0, itemWidth: 10, itemHeight: 10, icon: "rect", textStyle: { color: t.ink2, fontFamily: font } } : undefined,
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
      label: { show: !many && d.categories.length <= 14, position: line ? "top" : lying ? "right" : "top", color: t.ink2, formatter: (p: { dataIndex: number }) => shown(s.points[p.dataIndex], share) },
      labelLayout: { hideOverlap: true },
      data: s.points.map((p) => p.value),
    })),
  };
}
