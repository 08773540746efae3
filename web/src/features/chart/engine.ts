import { BarChart, CustomChart, LineChart, PieChart } from "echarts/charts";
import { GridComponent, LegendComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { LabelLayout } from "echarts/features";
import { SVGRenderer } from "echarts/renderers";
import type { Drawing } from "../../api/client";
import { options } from "./options";

use([BarChart, LineChart, PieChart, CustomChart, GridComponent, LegendComponent, TooltipComponent, LabelLayout, SVGRenderer]);

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Draws into a box and follows its size and the theme. */
export function draw(box: HTMLElement, drawing: Drawing, share: boolean, onMark: (series: number, at: number) => void) {
  const chart = init(box, undefined, { renderer: "svg" });
  const paint = () =>
    chart.setOption(
      options(
        drawing,
        share,
        { ink: token("--ink"), ink2: token("--ink2"), line: token("--line"), paper: token("--paper") },
        box.clientWidth,
      ),
      true,
    );
  chart.on("click", (p) => onMark(p.seriesIndex ?? 0, p.dataIndex));
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
