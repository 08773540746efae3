import type { EChartsCoreOption } from "echarts/core";
import type { Drawing } from "../api/client";
import type { Tokens } from "./options";
import { font, shown } from "./writing";

/** Each stage as wide as its value, drawn in a slight taper of its own, so that a stage that grows does not look like one that shrinks. */
export function funnel(d: Drawing, share: boolean, t: Tokens, width: number): EChartsCoreOption {
  const points = d.series[0]?.points ?? [];
  const most = d.ticks[d.ticks.length - 1]?.value || 1;
  // Where there is little room, names have less of it, and values beside the stages have theirs.
  const left = Math.round(Math.min(150, Math.max(112, width * 0.36)));
  let right = 20;
  for (let i = 0; i < 4; i++) {
    const room = Math.max(60, width - left - right);
    const beyond = points.map((p) => {
      const half = ((Math.max(0, p.value ?? 0) / most) * room) / 2;
      const wide = shown(p, share, d.labels).length * 9;
      return half * 2 > wide + 12 ? 0 : half + 8 + wide - room / 2 - right + 4;
    });
    right += Math.max(0, ...beyond);
  }
  return {
    grid: { left, right, top: 8, bottom: 8, outerBoundsMode: "none" },
    xAxis: { type: "value", show: false, min: -most / 2, max: most / 2 },
    yAxis: { type: "category", show: false, inverse: true, data: d.categories.map((c) => c.label) },
    series: [
      {
        type: "custom",
        data: points.map((p, i) => [p.value ?? 0, i]),
        renderItem: (at: { dataIndex: number }, room: Room) => funnelPart(d, share, t, at.dataIndex, room, left),
      },
    ],
  };
}

type Room = { coord: (v: number[]) => number[]; size: (v: number[]) => number[] };

function funnelPart(d: Drawing, share: boolean, t: Tokens, at: number, api: Room, left: number) {
  const p = d.series[0].points[at];
  const half = Math.max(2, api.size([Math.max(0, p.value ?? 0), 0])[0] / 2);
  const [x, y] = api.coord([0, at]);
  const tall = Math.min(36, api.size([0, 1])[1] / 2 - 3);
  const label = shown(p, share, d.labels);
  const inside = half * 2 > label.length * 9 + 12;
  const c = d.categories[at];
  const room = api.size([0, 1])[1];
  // What stands beside a stage, as far as it is tall enough: its name, how many it holds, how many went on.
  const lines = [
    { text: c.label, bold: true, fill: t.ink },
    { text: d.categories.length < 9 ? c.detail : "", bold: false, fill: t.ink2 },
    { text: c.step ?? "", bold: false, fill: t.sea },
  ].filter((l) => l.text);
  const words = lines.slice(0, Math.max(1, Math.floor(room / 15)));
  return {
    type: "group",
    children: [
      ...words.map((l, i) => ({
        type: "text",
        silent: true,
        style: {
          text: l.text,
          x: left - 10,
          y: y + (i - (words.length - 1) / 2) * 15,
          align: "right",
          verticalAlign: "middle",
          width: left - 14,
          overflow: "truncate",
          fill: l.fill,
          font: l.bold ? `700 13px ${font}` : `12px ${font}`,
        },
      })),
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
          fill: inside ? c.text : t.ink,
          font: `700 13px ${font}`,
        },
      },
    ],
  };
}
