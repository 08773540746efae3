import { describe, expect, it, vi } from "vitest";
import type { Drawing } from "../api/client";
import { markOf, onGround, options, tips } from "./options";

const paint = (colour: string) => ({
  colour,
  text: `on ${colour}`,
  onInk: `light ${colour}`,
  textOnInk: `on light ${colour}`,
});

vi.stubGlobal("matchMedia", () => ({ matches: true }));
const tokens = { ink: "ink", ink2: "ink2", line: "line", paper: "paper", sunk: "sunk", sea: "sea" };

const points = (...values: (number | null)[]) =>
  values.map((value) => ({
    value,
    label: `${value}`,
    share: "",
    say: `says ${value}`,
    weight: 0,
    mark: { rows: [], across: [] },
  }));
function drawing(kind: string, more: Partial<Drawing> = {}): Drawing {
  return {
    kind,
    title: "Value by month",
    categories: ["Apr", "May"].map((label) => ({ label, detail: "", total: "", ...paint("c") })),
    series: [
      { name: "Value", ...paint("teal"), form: "", points: points(3, 5) },
      { name: "the year before", ...paint("grey"), form: "ghost", points: points(4, null) },
      { name: "the target", ...paint("grey"), form: "aim", points: points(6, 6) },
    ],
    ticks: [0, 5, 10].map((value) => ({ value, label: `€${value}` })),
    second: [],
    notes: [],
    total: "8",
    unit: "",
    stacked: false,
    legend: "top",
    guides: "values",
    labels: "",
    apart: false,
    timed: false,
    ...more,
  };
}
// biome-ignore lint/suspicious/noExplicitAny: what the charting library takes has no type of its own
const drawn = (d: Drawing) => ({ ...options(d, false, tokens, [600, 400]), ...tips(d, tokens) }) as any;

describe("what the picture is told to draw", () => {
  it("draws what was before as a pale column behind, and a target as a stroke across", () => {
    const { series } = drawn(drawing("column"));
    expect(series.map((s: { type: string }) => s.type)).toEqual(["bar", "bar", "scatter"]);
    expect(series[1].itemStyle.opacity).toBeLessThan(0.5);
    expect(series[1].data).toEqual([4, null]);
    expect(series[2].data).toEqual([
      [0, 6],
      [1, 6],
    ]);
    const [wide, high] = series[2].symbolSize;
    expect(wide).toBeGreaterThan(high);
  });

  it("turns both where bars lie", () => {
    const { series } = drawn(drawing("bar"));
    expect(series[2].data).toEqual([
      [6, 0],
      [6, 1],
    ]);
    const [wide, high] = series[2].symbolSize;
    expect(high).toBeGreaterThan(wide);
  });

  it("draws both as lines beside a line", () => {
    const { series } = drawn(drawing("line"));
    expect(series.map((s: { type: string }) => s.type)).toEqual(["line", "line", "line"]);
    expect(series[1].lineStyle.type).not.toEqual(series[2].lineStyle.type);
  });

  it("labels marks where there is room, never where something stands beside them, always where asked", () => {
    const alone = drawing("column", { series: drawing("column").series.slice(0, 1) });
    expect(drawn(alone).series[0].label.show).toBe(true);
    expect(drawn(drawing("column")).series[0].label.show).toBe(false);
    expect(drawn(drawing("column", { labels: "values" })).series[0].label.show).toBe(true);
    expect(drawn({ ...alone, labels: "none" }).series[0].label.show).toBe(false);
    expect(drawn({ ...alone, labels: "values" }).series[0].label.formatter({ dataIndex: 1 })).toBe("5");
  });

  it("ends the value axis where the drawing does, with the drawing's own words", () => {
    const { yAxis } = drawn(drawing("column", { valueTitle: "Euros" }));
    expect([yAxis.min, yAxis.max, yAxis.interval, yAxis.name]).toEqual([0, 10, 5, "Euros"]);
    expect([0, 5, 7].map((v) => yAxis.axisLabel.formatter(v))).toEqual(["€0", "€5", ""]);
  });

  it("names the groups below columns, and over the first of lying bars", () => {
    expect(drawn(drawing("column", { groupTitle: "Month" })).xAxis).toMatchObject({
      name: "Month",
      nameLocation: "middle",
    });
    expect(drawn(drawing("bar", { groupTitle: "Month" })).yAxis).toMatchObject({
      name: "Month",
      nameLocation: "start",
    });
    expect(drawn(drawing("bar")).yAxis.name).toBeUndefined();
  });

  it("names each group where none follows from the one before, slanted where there is no room side by side", () => {
    const groups = (labels: string[], apart: boolean, kind = "column") =>
      drawing(kind, {
        apart,
        categories: labels.map((label) => ({ label, detail: "", total: "", ...paint("c") })),
        series: drawing(kind).series.slice(0, 1),
      });
    const label = (d: Drawing, width = 400, height = 400) =>
      // biome-ignore lint/suspicious/noExplicitAny: what the charting library takes has no type of its own
      (options(d, false, tokens, [width, height]) as any).xAxis.axisLabel;
    const stages = [
      "Enquiry",
      "Site survey",
      "Design",
      "Offer sent",
      "Contract review",
      "Ordered",
      "Lost",
      "Later",
      "Renewal sent",
      "Ended",
    ];
    expect(label(groups(stages, true))).toMatchObject({ rotate: 45, interval: 0 });
    expect(label(groups(stages, true), 1400).rotate, "room for all side by side").toBeUndefined();
    expect(label(groups(stages, false)).interval, "months: every so many").toBeGreaterThan(0);
    expect(label(groups(["Offer sent", "Site survey"], true)), "a few in two lines").toMatchObject({
      overflow: "break",
      interval: 0,
    });
    const days = Array.from({ length: 8 }, (_, i) => `0${i + 1}.05.2026`);
    expect(label(groups(days, false)), "a day is never cut in two").toMatchObject({
      overflow: "truncate",
      interval: 2,
    });
    expect(label(groups(days, false), 800), "where there is room, all of them").toMatchObject({
      overflow: "break",
      interval: 0,
    });
    expect(label(groups(stages, true), 400, 150).width, "shorter in a low picture").toBeLessThan(80);
    const crowd = Array.from({ length: 60 }, (_, i) => `Customer ${i}`);
    expect(label(groups(crowd, true)).rotate, "too many for one behind another").toBeUndefined();
    const titled = (apart: boolean) =>
      (drawn({ ...groups(stages, apart), groupTitle: "Stage" }) as { xAxis: { nameGap: number } }).xAxis.nameGap;
    expect(titled(true), "the axis is named below the slanted names").toBeGreaterThan(titled(false) + 30);
  });

  it("has a legend only where there are names to tell apart, where it is asked for", () => {
    expect(drawn(drawing("column")).legend).toMatchObject({ top: 0 });
    expect(drawn(drawing("column", { legend: "right" })).legend).toMatchObject({ right: 0, orient: "vertical" });
    expect(drawn(drawing("column", { legend: "none" })).legend).toBeUndefined();
    const many = drawing("column", {
      series: ["Enquiry", "Site survey", "Contract review", "Not taken up", "Offer sent"].map((name) => ({
        ...drawing("column").series[0],
        name,
      })),
    });
    const at = (width: number, height: number, still = false) =>
      // biome-ignore lint/suspicious/noExplicitAny: what the charting library takes has no type of its own
      (({ legend, grid }: any) => [legend.type, grid.top])(options(many, false, tokens, [width, height], still));
    const [one, two] = [at(900, 400), at(320, 400)];
    expect([one[0], two[0]], "in as many lines as it takes").toEqual(["plain", "plain"]);
    expect(two[1]).toBeGreaterThan(one[1]);
    expect(at(320, 150)[0], "in a low picture it is leafed through").toBe("scroll");
    expect(at(320, 150, true), "but not on paper").toEqual(["plain", at(320, 400)[1]]);
    expect(drawn(drawing("column", { series: drawing("column").series.slice(0, 1) })).legend).toBeUndefined();
  });

  it("says a mark without letting its words be markup", () => {
    const d = drawing("column", { series: drawing("column").series.slice(0, 1) });
    d.series[0].points[0].say = "<b>3</b>";
    expect(drawn(d).tooltip.formatter({ seriesIndex: 0, dataIndex: 0 })).toBe("&#60;b&#62;3&#60;/b&#62;");
  });

  it("tells the whole category: each series, with its share, and what they come to", () => {
    const two = ["Call", "Visit"].map((name) => ({
      name,
      ...paint("c"),
      form: "",
      points: points(3, 5).map((p) => ({ ...p, share: "20.0 %" })),
    }));
    const d = drawing("column", {
      series: two,
      categories: drawing("column").categories.map((c) => ({ ...c, total: "€6.00" })),
    });
    expect(drawn(d).tooltip.formatter({ seriesIndex: 1, dataIndex: 0 })).toBe(
      "Apr<br>Call: 3 (20.0 % of all)<br><b>Visit: 3 (20.0 % of all)</b><br>together €6.00",
    );
  });

  it("draws lighter sisters of its colours on ink, and text that can be read on them", () => {
    const on = onGround(drawing("column", { stacked: true }), true);
    // biome-ignore lint/suspicious/noExplicitAny: what the charting library takes has no type of its own
    const { series } = options(on, false, tokens, [600, 400]) as any;
    expect(series[0].itemStyle.color).toBe("light teal");
    expect(series[0].label.color).toBe("on light teal");
    expect(onGround(on, false)).toBe(on);
  });

  it("finds which mark a cell of a heat grid and a dot of a scatter stand for", () => {
    expect(markOf(drawing("heat"), 0, 3)).toEqual([1, 1]);
    expect(markOf(drawing("scatter"), 0, 1)).toEqual([1, 1]);
    expect(markOf(drawing("column"), 2, 1)).toEqual([2, 1]);
  });

  it("says values over columns only where there is room for them, and at once where it is asked", () => {
    const many = (labels: string) => {
      const values = Array.from({ length: 12 }, (_, i) => i * 1000);
      return drawing("column", {
        labels,
        categories: values.map((v) => ({ label: `Month ${v}`, detail: "", total: "", ...paint("c") })),
        series: [{ name: "Value", ...paint("teal"), form: "", points: points(...values) }],
      });
    };
    const at = (d: Drawing, width: number) =>
      // biome-ignore lint/suspicious/noExplicitAny: what the charting library takes has no type of its own
      (options(d, false, tokens, [width, 400]) as any).series[0].label.show;
    expect([at(many(""), 900), at(many(""), 300), at(many("values"), 300), at(many("none"), 900)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
    const line = { ...many(""), kind: "line" };
    expect([at(line, 900), at(line, 300)], "and along a line").toEqual([true, false]);
  });

  it("leaves lying bars most of a narrow panel, whatever their names", () => {
    const d = drawing("bar", {
      categories: ["A name that is longer than a panel is wide", "May"].map((label) => ({
        label,
        detail: "",
        total: "",
        ...paint("c"),
      })),
    });
    // biome-ignore lint/suspicious/noExplicitAny: as above
    const narrow = options(d, false, tokens, [260, 400]) as any;
    expect(narrow.yAxis.axisLabel.width).toBeLessThanOrEqual(104);
    expect(narrow.xAxis.axisLabel.hideOverlap).toBe(true);
  });

  it("parts slices only where they are thick enough to be parted", () => {
    const border = (n: number) =>
      drawn(
        drawing("pie", {
          categories: Array.from({ length: n }, (_, i) => ({ label: `${i}`, detail: "", total: "", ...paint("c") })),
          series: [
            { name: "Value", ...paint("teal"), form: "", points: points(...Array.from({ length: n }, () => 1)) },
          ],
        }),
      ).series[0].itemStyle.borderWidth;
    expect([border(8), border(200)]).toEqual([2, 0]);
  });

  it("writes beside a stage what there is room for", () => {
    const d = drawing("funnel", {
      categories: ["Enquiry", "Design"].map((label) => ({
        label,
        detail: "3 deals",
        total: "",
        ...paint("c"),
        step: label === "Enquiry" ? "60.0 % went on" : "",
      })),
      series: [{ name: "Value", ...paint("teal"), form: "", points: points(3, 5) }],
    });
    const texts = (height: number) =>
      drawn(d)
        .series[0].renderItem({ dataIndex: 0 }, { coord: () => [300, 50], size: () => [80, height] })
        .children.filter((c: { type: string }) => c.type === "text")
        .map((c: { style: { text: string } }) => c.style.text);
    expect(texts(60)).toEqual(["Enquiry", "3 deals", "60.0 % went on", "3"]);
    expect(texts(18)).toEqual(["Enquiry", "3"]);
  });

  it("keeps the values beside stages inside a small panel", () => {
    const d = drawing("funnel", {
      categories: ["Enquiry", "Design"].map((label) => ({ label, detail: "", total: "", ...paint("c") })),
      series: [{ name: "Value", ...paint("teal"), form: "", points: points(60, 100) }],
      ticks: [
        { value: 0, label: "0" },
        { value: 100, label: "100" },
      ],
    });
    for (const width of [210, 260, 400, 900]) {
      const option = options(d, false, tokens, [width, 160]) as unknown as Funnel;
      const { left, right } = option.grid;
      const room = width - left - right;
      const part = option.series[0].renderItem(
        { dataIndex: 0 },
        { coord: () => [left + room / 2, 40], size: ([v]) => [(v / 100) * room, 40] },
      );
      const value = part.children[part.children.length - 1].style;
      const wide = value.text.length * 8;
      expect(value.x + (value.align === "center" ? wide / 2 : wide)).toBeLessThanOrEqual(width);
    }
  });
});

type Funnel = {
  grid: { left: number; right: number };
  series: {
    renderItem: (
      at: { dataIndex: number },
      room: { coord: () => number[]; size: (v: number[]) => number[] },
    ) => { children: { style: { text: string; x: number; align: string } }[] };
  }[];
};
