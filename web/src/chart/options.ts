import type { EChartsCoreOption } from "echarts/core";
import type { Drawing } from "../api/client";
import { bridge } from "./bridge";
import { funnel } from "./funnel";
import { font, shown } from "./writing";

export type Tokens = {
  ink: string;
  ink2: string;
  line: string;
  paper: string;
  sunk: string;
  sea: string;
  dark?: boolean;
};

/** A drawing in the colours of its ground: on ink, each is its lighter sister. */
export function onGround(d: Drawing, dark: boolean | undefined): Drawing {
  if (!dark) return d;
  const light = <T extends { colour: string; text: string; onInk: string; textOnInk: string }>(x: T): T => ({
    ...x,
    colour: x.onInk,
    text: x.textOnInk,
  });
  return { ...d, categories: d.categories.map(light), series: d.series.map(light) };
}

/**
 * What ECharts is told to draw for a drawing. Nothing is worked out here; every text and number is the drawing's. In a still
 * picture nothing can be leafed through.
 */
export function options(
  d: Drawing,
  share: boolean,
  t: Tokens,
  [width, height]: number[],
  still = false,
): EChartsCoreOption {
  const base: EChartsCoreOption = {
    animation: !matchMedia("(prefers-reduced-motion: reduce)").matches,
    animationDuration: 250,
    textStyle: { fontFamily: font, color: t.ink },
    aria: { enabled: false },
  };
  if (d.kind === "pie" || d.kind === "ring")
    return { ...base, legend: legend(d, t, still), series: [pie(d, share, t)] };
  if (d.kind === "heat") return { ...base, ...heat(d, t, width, height) };
  if (d.kind === "scatter" || d.kind === "bubble") return { ...base, ...scatter(d, t, width) };
  if (d.kind === "funnel") return { ...base, ...funnel(d, share, t, width) };
  if (d.kind === "bridge")
    return { ...base, ...cartesian(d, share, t, width, height, still), series: [bridge(d, share, t)] };
  return { ...base, ...cartesian(d, share, t, width, height, still) };
}

/** What stands beside a mark while it is pointed at. */
export const tips = (d: Drawing, t: Tokens): EChartsCoreOption => ({
  tooltip: {
    trigger: "item",
    backgroundColor: t.ink,
    borderWidth: 0,
    // It goes with what it is about, and never lies on a sheet that is opened.
    hideDelay: 0,
    transitionDuration: 0,
    extraCssText: "z-index: 20",
    textStyle: { color: t.paper, fontFamily: font },
    formatter: (p: unknown) => tip(d, p as { seriesIndex: number; dataIndex: number }),
  },
});

/** Which series and which point of it a mark of the picture stands for. */
export function markOf(d: Drawing, seriesIndex: number, dataIndex: number): [number, number] {
  if (d.kind === "heat") return [Math.floor(dataIndex / d.categories.length), dataIndex % d.categories.length];
  if (d.kind === "scatter" || d.kind === "bubble") return [1, dataIndex];
  return [seriesIndex, dataIndex];
}

function tip(d: Drawing, p: { seriesIndex: number; dataIndex: number }): string {
  const [series, at] = markOf(d, p.seriesIndex, p.dataIndex);
  const pt = d.series[series]?.points[at];
  if (!pt) return "";
  if (d.kind === "scatter" || d.kind === "bubble") {
    const esc = (s: string) => s.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
    return [d.categories[at].label, ...d.series.map((s) => `${s.name}: ${s.points[at].label || "nothing"}`)]
      .map(esc)
      .join("<br>");
  }
  const esc = (s: string) => s.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
  const category = d.categories[at];
  const detail = category?.detail;
  // Of several series the whole category is told, each with its share, and what they come to.
  if (d.series.length > 1 && d.kind !== "heat") {
    const lines = d.series
      .filter((s) => s.points[at] && (s.points[at].value ?? null) !== null)
      .map(
        (s) =>
          `${s === d.series[series] ? "<b>" : ""}${esc(s.name)}: ${esc(s.points[at].label)}${s.points[at].share && s.points[at].share !== s.points[at].label ? ` (${esc(s.points[at].share)} of all)` : ""}${s === d.series[series] ? "</b>" : ""}`,
      );
    const all = d.series.some((s) => s.form) || !category.total ? "" : `together ${esc(category.total)}`;
    return [esc(category.label), ...lines, all].filter(Boolean).join("<br>");
  }
  return [pt.say, pt.share && `${pt.share} of all`, d.series.length === 1 ? detail : ""]
    .filter(Boolean)
    .map((s) => esc(s as string))
    .join("<br>");
}

const legendLine = 22;

/**
 * How many lines the names of the series take, one behind another, over or under a picture; nothing where they would take
 * more than a quarter of its height, or of a still one more than half, and are leafed through instead.
 */
function legendLines(d: Drawing, width: number, height: number, still: boolean): number | undefined {
  let lines = 1;
  let at = 0;
  for (const s of d.series) {
    const long = wide(s.name) * 0.95 + 26;
    if (at > 0 && at + long > width) {
      lines++;
      at = 0;
    }
    at += long;
  }
  return lines * legendLine <= height / (still ? 2 : 4) ? lines : undefined;
}

/** Where the legend stands; nothing where there is none to need. */
function legend(d: Drawing, t: Tokens, still: boolean, lines?: number) {
  const at = {
    top: { top: 0, left: 0 },
    below: { bottom: 0, left: "center" },
    right: { right: 0, top: "middle", orient: "vertical" },
    left: { left: 0, top: "middle", orient: "vertical" },
  }[d.legend];
  const names = d.kind === "pie" || d.kind === "ring";
  if (!at || (!names && d.series.length < 2) || (names && d.legend === "top")) return undefined;
  return {
    ...at,
    type: d.legend === "top" || d.legend === "below" ? (lines ? "plain" : "scroll") : still ? "plain" : "scroll",
    itemWidth: 10,
    itemHeight: 10,
    icon: "rect",
    textStyle: { color: t.ink2, fontFamily: font },
    pageIconColor: t.ink,
    pageIconInactiveColor: t.line,
    pageTextStyle: { color: t.ink2, fontFamily: font },
  };
}

/** About how wide a text of usual size is. */
const wide = (text: string) => text.length * 7.2;

const widest = (texts: string[]) => texts.reduce((w, text) => Math.max(w, wide(text)), 0);

/** How long slanted names may be: they leave most of a picture's height to what it shows. */
const slantedLength = (height: number) => Math.max(52, Math.min(104, height * 0.4));

/** The names of groups that need one each, written upwards where they have no room beside each other but one behind another. */
const slanted = (height: number) => ({ rotate: 45, interval: 0, width: slantedLength(height), overflow: "truncate" });

/** How tall slanted names are. */
const slantedHeight = (texts: string[], height: number) =>
  Math.ceil(Math.min(slantedLength(height), widest(texts)) * 0.6 + 12);

/** How many groups have names that may go on in a second line. */
const fewGroups = 8;

/** Whether some name has a part that has no room of its own, where each group has so much room along the picture. */
const cut = (d: Drawing, room: number) =>
  d.categories.some((c) =>
    (d.categories.length <= fewGroups ? c.label.split(" ") : [c.label]).some((text) => wide(text) * 0.92 > room - 4),
  );

/** Whether names are written slanted: where each is needed and one has no room of its own. */
const slants = (d: Drawing, room: number) => d.apart && room >= 19 && cut(d, room);

/** Each pair of groups as a cell, the deeper the more. */
function heat(d: Drawing, t: Tokens, width: number, height: number): EChartsCoreOption {
  const longest = Math.max(...d.series.flatMap((s) => s.points.map((p) => p.label.length)), 1);
  const each = (width - 120) / d.categories.length;
  const room = each > longest * 7.5;
  const names = d.series.map((s) => s.name);
  return {
    grid: { left: 8, right: 12, top: 8, bottom: 4, outerBoundsMode: "same", outerBoundsContain: "axisLabel" },
    xAxis: {
      type: "category",
      data: d.categories.map((c) => c.label),
      axisLine: { show: false },
      axisTick: { show: false },
      axisLabel: slants(d, each) ? { color: t.ink, ...slanted(height) } : { color: t.ink, hideOverlap: true },
    },
    yAxis: {
      type: "category",
      data: names,
      inverse: true,
      axisLine: { show: false },
      axisTick: { show: false },
      axisLabel: { color: t.ink },
    },
    series: [
      {
        type: "heatmap",
        data: d.series.flatMap((s, y) =>
          s.points.map((p, x) => ({
            value: [x, y, p.value ?? 0],
            itemStyle: {
              color: p.value ? t.sea : t.sunk,
              opacity: p.value ? 0.12 + 0.88 * p.weight : 1,
              borderColor: t.paper,
              borderWidth: 2,
            },
            label: {
              show: d.labels !== "none" && room,
              color: p.weight > 0.55 ? t.paper : t.ink,
              formatter: () => p.label,
            },
          })),
        ),
      },
    ],
  };
}

/** Two measures against each other, a third as size. */
function scatter(d: Drawing, t: Tokens, width: number): EChartsCoreOption {
  const [x, y, size] = d.series;
  const most = Math.max(...(size?.points.map((p) => Math.abs(p.value ?? 0)) ?? [1]), 1e-9);
  // A name stands beside its mark where no name before it stands: about so wide and high on a picture of usual height.
  const along = (ticks: Drawing["ticks"], v: number, room: number) => {
    const low = ticks[0]?.value ?? 0;
    const high = ticks[ticks.length - 1]?.value ?? 1;
    return ((v - low) / (high - low || 1)) * room;
  };
  const taken: [number, number, number][] = [];
  const named = d.categories.map((c, i) => {
    const left = along(d.second, x?.points[i]?.value ?? 0, width - 80);
    const top = along(d.ticks, y?.points[i]?.value ?? 0, 240);
    const wide = c.label.length * 8 + 24;
    if (taken.some(([l, p, w]) => Math.abs(p - top) < 22 && left < l + w && l < left + wide)) return false;
    taken.push([left, top, wide]);
    return left + wide < width - 40;
  });
  const about = (ticks: Drawing["ticks"]) =>
    size && ticks.length > 1 ? (ticks[ticks.length - 1].value - ticks[0].value) * 0.09 : 0;
  const axis = (ticks: Drawing["ticks"], name: string) => ({
    type: "value",
    name,
    nameLocation: "middle",
    nameGap: 26,
    nameTextStyle: { color: t.ink2 },
    // Bubbles have room about them, so that none lies on what the axis says.
    min: (ticks[0]?.value ?? 0) - about(ticks),
    max: (ticks[ticks.length - 1]?.value ?? 0) + about(ticks),
    interval: ticks.length > 1 ? ticks[1].value - ticks[0].value : undefined,
    axisLabel: {
      color: t.ink2,
      customValues: ticks.map((k) => k.value),
      formatter: (v: number) => ticks.find((k) => Math.abs(k.value - v) < 1e-6)?.label ?? "",
    },
    splitLine: { show: d.guides !== "none", lineStyle: { color: t.line } },
    splitArea: { show: d.guides === "stripes", areaStyle: { color: ["transparent", t.sunk] } },
  });
  return {
    grid: { left: 12, right: 24, top: 16, bottom: 26, outerBoundsMode: "same", outerBoundsContain: "axisLabel" },
    xAxis: axis(d.second, x?.name ?? ""),
    yAxis: {
      ...axis(d.ticks, y?.name ?? ""),
      nameLocation: "end",
      nameGap: 8,
      nameTextStyle: { color: t.ink2, align: "left" },
    },
    series: [
      {
        type: "scatter",
        symbolSize: (_: unknown, p: { dataIndex: number }) =>
          size ? 8 + 34 * Math.sqrt(Math.abs(size.points[p.dataIndex]?.value ?? 0) / most) : 11,
        itemStyle: { opacity: 0.8 },
        label: {
          position: "right",
          color: t.ink2,
          padding: [4, 6, 4, 2],
          formatter: (p: { dataIndex: number }) => d.categories[p.dataIndex].label,
        },
        labelLayout: { hideOverlap: true },
        data: d.categories.map((c, i) => ({
          value: [x?.points[i]?.value ?? 0, y?.points[i]?.value ?? 0],
          itemStyle: { color: c.colour },
          label: { show: named[i] && d.labels !== "none" && d.categories.length <= 20 },
        })),
      },
    ],
  };
}

function pie(d: Drawing, share: boolean, t: Tokens) {
  return {
    type: "pie",
    radius: [d.kind === "ring" ? "34%" : "0%", "54%"],
    // Slices too thin for a label of their own are told apart by the tooltip and the table.
    minShowLabelAngle: 7,
    labelLayout: { hideOverlap: true },
    // What parts slices would hide very thin ones.
    itemStyle: { borderColor: t.paper, borderWidth: d.categories.length > 40 ? 0 : 2 },
    label: {
      color: t.ink,
      width: 84,
      overflow: "break",
      lineHeight: 15,
      formatter: (p: { dataIndex: number }) =>
        `${d.categories[p.dataIndex].label}\n${shown(d.series[0].points[p.dataIndex], share, d.labels)}`.trim(),
    },
    labelLine: { length: 10, length2: 8, lineStyle: { color: t.ink2 } },
    data: d.series[0]?.points.map((p, i) => ({
      value: p.value ?? 0,
      name: d.categories[i].label,
      itemStyle: { color: d.categories[i].colour },
    })),
  };
}

/** What it was before: a pale column behind, or a dashed line. */
function ghost(d: Drawing, s: Drawing["series"][0], t: Tokens) {
  const line = d.kind === "line" || d.kind === "area";
  return {
    type: line ? "line" : "bar",
    name: s.name,
    z: 1,
    barGap: "-78%",
    barMaxWidth: 44,
    symbol: "none",
    lineStyle: { width: 2, type: [5, 4], color: t.ink2 },
    itemStyle: line
      ? { color: t.ink2 }
      : { color: t.ink2, opacity: 0.28, borderRadius: d.kind === "bar" ? [0, 3, 3, 0] : [3, 3, 0, 0] },
    label: { show: false },
    data: s.points.map((p) => p.value),
  };
}

/** About how wide a picture's groups stand along it. */
const roomEach = (d: Drawing, width: number) => (width - 72) / Math.max(1, d.categories.length);

/** What is aimed at: a stroke across each column, or a dotted line. */
function aim(d: Drawing, s: Drawing["series"][0], t: Tokens, width: number) {
  if (d.kind === "line" || d.kind === "area")
    return {
      type: "line",
      name: s.name,
      symbol: "none",
      lineStyle: { width: 2, type: [2, 3], color: t.ink },
      itemStyle: { color: t.ink },
      label: { show: false },
      data: s.points.map((p) => p.value),
    };
  const lying = d.kind === "bar";
  const long = lying ? 22 : Math.max(10, Math.min(56, roomEach(d, width) * 0.8));
  return {
    type: "scatter",
    name: s.name,
    z: 4,
    symbol: "rect",
    symbolSize: lying ? [3, long] : [long, 3],
    itemStyle: { color: t.ink },
    label: { show: false },
    data: s.points.map((p, i) => (lying ? [p.value, i] : [i, p.value])),
  };
}

function cartesian(
  d: Drawing,
  share: boolean,
  t: Tokens,
  width: number,
  height: number,
  still: boolean,
): EChartsCoreOption {
  const lying = d.kind === "bar";
  const line = d.kind === "line" || d.kind === "area";
  const many = d.series.length > 1;
  const room = roomEach(d, width);
  const slant = !lying && slants(d, room);
  const few = !lying && !slant && d.categories.length <= fewGroups && (d.apart || !cut(d, room));
  const labels = d.categories.map((c) => c.label);
  const label = widest(labels) + 6;
  const names = Math.min(130, label, width * 0.4);
  // Names along the bottom stand under every so many groups; the last may go on beyond its group.
  const longest = Math.min(100, label);
  // What stands over columns, and after bars, where they say their value.
  const said = d.series.flatMap((s) =>
    s.points.map((p) => (p.value === null || p.value === undefined ? "" : shown(p, share, d.labels))),
  );
  const fits = lying || d.stacked || widest(said) <= room + 4;
  const saying =
    d.labels === "none" ? false : d.labels ? d.categories.length <= 40 : !many && d.categories.length <= 14 && fits;
  const at = many ? d.legend : "none";
  const lines = legendLines(d, width, height, still);
  const legendRoom = 14 + legendLine * (lines ?? 1);
  const right =
    at === "right"
      ? 140
      : lying && saying && !d.stacked
        ? Math.max(24, widest(said) + 8)
        : few || lying || slant
          ? 16
          : Math.max(16, longest / 2 - 8);
  const second = d.kind === "column_line" && d.second.length > 0;
  const every = Math.max(
    1,
    Math.ceil(
      (longest + 8) /
        ((width - 64 - right - (at === "left" ? 130 : 0) - (second ? 56 : 0)) / Math.max(1, d.categories.length)),
    ),
  );
  const ticks = d.ticks;
  // How far below the axis its name stands, under the names of the groups.
  const under = slant ? slantedHeight(labels, height) + 8 : 26;
  const title = (name: string | undefined, along: boolean) =>
    name
      ? {
          name,
          nameLocation: along ? "middle" : "end",
          nameGap: along ? under : 10,
          nameTextStyle: { color: t.ink2, fontFamily: font, align: along ? "center" : "left" },
        }
      : {};
  const category = {
    type: "category",
    data: labels,
    inverse: lying,
    ...title(d.groupTitle, !lying),
    // Groups that go down have the name over the first of them.
    ...(lying && d.groupTitle ? { nameLocation: "start" } : {}),
    axisLine: { lineStyle: { color: t.line } },
    axisTick: { show: false },
    axisLabel: {
      color: t.ink,
      interval: few || (lying && d.categories.length <= 30) ? 0 : lying ? "auto" : every - 1,
      hideOverlap: lying,
      lineHeight: 15,
      width: lying ? names : few ? Math.max(24, room - 4) : longest,
      overflow: few ? "break" : "truncate",
      ...(slant ? slanted(height) : {}),
    },
  };
  const value = {
    type: "value",
    ...title(d.valueTitle, lying),
    min: ticks[0]?.value,
    max: ticks[ticks.length - 1]?.value,
    interval: ticks.length > 1 ? ticks[1].value - ticks[0].value : undefined,
    axisLabel: {
      color: t.ink2,
      hideOverlap: true,
      formatter: (v: number) => ticks.find((k) => Math.abs(k.value - v) < 1e-6)?.label ?? "",
    },
    splitLine: { show: d.guides !== "none" && d.guides !== "stripes", lineStyle: { color: t.line } },
    splitArea: { show: d.guides === "stripes", areaStyle: { color: ["transparent", t.sunk] } },
  };
  const axis2 = {
    ...value,
    min: d.second[0]?.value,
    max: d.second[d.second.length - 1]?.value,
    interval: d.second.length > 1 ? d.second[1].value - d.second[0].value : undefined,
    axisLabel: {
      color: t.ink2,
      formatter: (v: number) => d.second.find((k) => Math.abs(k.value - v) < 1e-6)?.label ?? "",
    },
    splitLine: { show: false },
    splitArea: { show: false },
  };
  return {
    grid: {
      left: at === "left" ? 130 : 8,
      right,
      top: (at === "top" ? legendRoom : 22) + ((lying ? d.groupTitle : d.valueTitle) ? 16 : 0),
      bottom: (at === "below" ? legendRoom - 6 : 4) + ((lying ? d.valueTitle : d.groupTitle) ? 18 : 0),
      outerBoundsMode: "same",
      outerBoundsContain: "axisLabel",
    },
    legend: legend(d, t, still, lines),
    xAxis: lying ? value : { ...category, splitLine: { show: d.guides === "both", lineStyle: { color: t.line } } },
    yAxis: lying
      ? { ...category, splitLine: { show: d.guides === "both", lineStyle: { color: t.line } } }
      : second
        ? [value, axis2]
        : value,
    series: d.series.map((s) =>
      s.form === "ghost"
        ? ghost(d, s, t)
        : s.form === "aim"
          ? aim(d, s, t, width)
          : {
              type: line || s.form === "line" ? "line" : "bar",
              yAxisIndex: second && s.form === "line" ? 1 : 0,
              areaStyle: d.kind === "area" ? { opacity: d.stacked ? 0.75 : 0.22 } : undefined,
              name: s.name,
              stack: d.stacked && d.kind !== "line" ? "all" : undefined,
              barMaxWidth: 44,
              symbol: "circle",
              symbolSize: 6,
              lineStyle: { width: 2.5, opacity: 1 },
              itemStyle: { color: s.colour, borderRadius: d.stacked || line ? 0 : lying ? [0, 3, 3, 0] : [3, 3, 0, 0] },
              label: {
                show: saying,
                position: line || s.form === "line" ? "top" : d.stacked ? "inside" : lying ? "right" : "top",
                color: d.stacked && !line ? s.text : t.ink,
                // No line of the axis runs through what is said.
                textBorderColor: d.stacked && !line ? undefined : t.paper,
                textBorderWidth: d.stacked && !line ? 0 : 3,
                formatter: (p: { dataIndex: number }) => shown(s.points[p.dataIndex], share, d.labels),
              },
              labelLayout: { hideOverlap: true },
              data:
                line || s.form === "line"
                  ? s.points.map((p, i) => besideLine(s.points, i, p.value))
                  : s.points.map((p) => p.value),
            },
    ),
  };
}

/** A point of a line, its value said where the line does not run: under a valley, before a rise, after a fall. */
function besideLine(points: Drawing["series"][0]["points"], at: number, value: number | null | undefined) {
  if (value === null || value === undefined) return value;
  const before = points[at - 1]?.value ?? value;
  const after = points[at + 1]?.value ?? value;
  if (before >= value && after >= value && before + after > 2 * value) return { value, label: { position: "bottom" } };
  if (after > value) return { value, label: { offset: [-9, 0] } };
  if (before > value) return { value, label: { offset: [9, 0] } };
  return value;
}
