import type { Drawing } from "../api/client";
import type { Tokens } from "./options";
import { font, shown } from "./writing";

type Room = { coord: (v: number[]) => number[]; size: (v: number[]) => number[] };

/** Bars one after another, each from where the one before it ended, with a thin line from one to the next. */
export function bridge(d: Drawing, share: boolean, t: Tokens) {
  const points = d.series[0]?.points ?? [];
  return {
    type: "custom",
    data: points.map((p, i) => [i, p.value ?? 0]),
    renderItem: (at: { dataIndex: number }, room: Room) => bar(d, share, t, at.dataIndex, room),
  };
}

const most = 24; // bars that say their value

function bar(d: Drawing, share: boolean, t: Tokens, at: number, room: Room) {
  const points = d.series[0].points;
  const p = points[at];
  const [x, end] = room.coord([at, p.value ?? 0]);
  // Where the axis begins above nothing, what stands on nothing is cut, and looks so.
  const floor = d.ticks[0]?.value ?? 0;
  const torn = floor > 0 && (p.from ?? 0) < floor;
  const begin = room.coord([at, torn ? floor : (p.from ?? 0)])[1];
  const step = room.size([1, 0])[0];
  const wide = Math.min(44, step * 0.68);
  const rising = end <= begin;
  const high = Math.max(1.5, Math.abs(end - begin));
  const label = points.length <= most && d.labels !== "none" ? shown(p, share, d.labels) : "";
  const fits = label.length * 6.4 <= step + 2;
  return {
    type: "group",
    children: [
      {
        type: "rect",
        shape: { x: x - wide / 2, y: Math.min(begin, end), width: wide, height: high, r: 2 },
        style: { fill: d.categories[at].colour },
      },
      ...(torn
        ? [
            {
              type: "polygon",
              silent: true,
              shape: {
                points: [
                  [x - wide / 2 - 1, begin - 9],
                  [x + wide / 2 + 1, begin - 17],
                  [x + wide / 2 + 1, begin - 12],
                  [x - wide / 2 - 1, begin - 4],
                ],
              },
              style: { fill: t.paper },
            },
          ]
        : []),
      // Where it ended the next begins.
      ...(at + 1 < points.length
        ? [
            {
              type: "line",
              silent: true,
              shape: { x1: x + wide / 2, y1: end, x2: x + step - wide / 2, y2: end },
              style: { stroke: t.ink2, lineWidth: 1, opacity: 0.6 },
            },
          ]
        : []),
      ...(label && fits
        ? [
            {
              type: "text",
              silent: true,
              style: {
                text: label,
                x,
                y: rising ? Math.min(begin, end) - 4 : Math.max(begin, end) + 4,
                align: "center",
                verticalAlign: rising ? "bottom" : "top",
                fill: t.ink,
                font: `12px ${font}`,
                stroke: t.paper,
                lineWidth: 3,
              },
            },
          ]
        : []),
    ],
  };
}
