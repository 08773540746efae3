import { BarChart, CustomChart, HeatmapChart, LineChart, PieChart, ScatterChart } from "echarts/charts";
import { GridComponent, LegendComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { LabelLayout } from "echarts/features";
import { SVGRenderer } from "echarts/renderers";
import type { Drawing } from "../../api/client";
import { markOf, options } from "./options";

use([
  BarChart,
  LineChart,
  PieChart,
  CustomChart,
  HeatmapChart,
  ScatterChart,
  GridComponent,
  LegendComponent,
  TooltipComponent,
  LabelLayout,
  SVGRenderer,
]);

/** Draws into a box and follows its size and the theme. */
export function draw(box: HTMLElement, drawing: Drawing, share: boolean, onMark: (series: number, at: number, more: boolean) => void) {
  const token = (name: string) => getComputedStyle(box).getPropertyValue(name).trim();
  const chart = init(box, undefined, { renderer: "svg" });
  const paint = () =>
    chart.setOption(
      options(
        drawing,
        share,
        {
          ink: token("--ink"),
          ink2: token("--ink2"),
          line: token("--line"),
          paper: token("--paper"),
          sunk: token("--sunk"),
          sea: token("--sea"),
        },
        box.clientWidth,
      ),
      true,
    );
  chart.on("click", (p) => {
    const [series, at] = markOf(drawing, p.seriesIndex ?? 0, p.dataIndex);
    const e = (p.event as { event?: MouseEvent } | undefined)?.event;
    onMark(series, at, !!e && (e.ctrlKey || e.metaKey));
  });
  chart.on("finished", () => box.setAttribute("data-finished", "true"));
  const sizes = new ResizeObserver(() => {
    chart.resize();
    paint();
  });
  sizes.observe(box);
  window.addEventListener("themechange", paint);
  paint();
  return {
    highlight: (seriesIndex: number, dataIndex: number) => {
      chart.dispatchAction({ type: "highlight", seriesIndex, dataIndex });
      chart.dispatchAction({ type: "showTip", seriesIndex, dataIndex });
    },
    calm: () => {
      chart.dispatchAction({ type: "downplay" });
      chart.dispatchAction({ type: "hideTip" });
    },
    dispose: () => {
      sizes.disconnect();
      window.removeEventListener("themechange", paint);
      chart.dispose();
    },
  };
}
