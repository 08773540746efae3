import { init } from "echarts/core";
import type { Drawing, Mark } from "../api/client";
import { markOf, onGround, options, type Tokens, tips } from "./options";
import "./parts";

const themes = new Map<string, Tokens>();

/** The colours of the theme that a box stands in; looked up once a theme, as that makes the browser work out all styles. */
function tokensOf(box: HTMLElement): Tokens {
  const theme = box.closest<HTMLElement>("[data-theme]")?.dataset.theme ?? "";
  const known = themes.get(theme);
  if (known) return known;
  const looks = getComputedStyle(box);
  const token = (name: string) => looks.getPropertyValue(name).trim();
  const tokens = {
    ink: token("--ink"),
    ink2: token("--ink2"),
    line: token("--line"),
    paper: token("--paper"),
    sunk: token("--sunk"),
    sea: token("--sea"),
    dark: theme === "ink",
  };
  themes.set(theme, tokens);
  return tokens;
}

/** A place for pictures, one after another: it follows its size and the theme. */
export function stage(box: HTMLElement, onMark: (series: number, at: number, more: boolean) => void) {
  let drawing: Drawing | undefined;
  let share = false;
  let lit: Mark[] | undefined;
  let telling = false;
  let size = [box.clientWidth, box.clientHeight];
  const chart = init(box, undefined, { renderer: "svg", width: size[0], height: size[1] });
  const paint = () => {
    if (!drawing) return;
    box.removeAttribute("data-finished");
    telling = false;
    const tokens = tokensOf(box);
    const option = options(onGround(drawing, tokens.dark), share, tokens, size);
    chart.setOption(lit ? dimmed(option, drawing, lit) : option, true);
  };
  // What is said beside a mark is set up when one is first pointed at: it makes the browser lay out the page.
  const tell = () => {
    if (!drawing || telling) return;
    telling = true;
    chart.setOption(tips(drawing, tokensOf(box)));
  };
  box.addEventListener("pointermove", tell, true);
  chart.on("click", (p) => {
    if (!drawing) return;
    const [series, at] = markOf(drawing, p.seriesIndex ?? 0, p.dataIndex);
    const e = (p.event as { event?: MouseEvent } | undefined)?.event;
    onMark(series, at, !!e && (e.ctrlKey || e.metaKey));
  });
  chart.on("finished", () => box.setAttribute("data-finished", "true"));
  const sizes = new ResizeObserver(() => {
    const now = [box.clientWidth, box.clientHeight];
    if (now[0] === size[0] && now[1] === size[1]) return;
    size = now;
    chart.resize({ width: size[0], height: size[1] });
    paint();
  });
  sizes.observe(box);
  window.addEventListener("themechange", paint);
  return {
    draw: (next: Drawing, asShares: boolean, picked?: Mark[]) => {
      drawing = next;
      share = asShares;
      lit = picked;
      paint();
    },
    highlight: (seriesIndex: number, dataIndex: number) => {
      tell();
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
      box.removeEventListener("pointermove", tell, true);
      chart.dispose();
    },
  };
}

type Data = { data?: unknown[] };

/** A chart with the marks that are not picked paler. */
function dimmed(option: ReturnType<typeof options>, drawing: Drawing, lit: Mark[]): ReturnType<typeof options> {
  const on = new Set(lit.map((m) => JSON.stringify([m.rows, m.across])));
  const list = (option.series ?? []) as Data[];
  const series = list.map((s, si) => ({
    ...s,
    data: s.data?.map((value, di) => {
      const [at, i] = markOf(drawing, si, di);
      const mark = drawing.series[at]?.points[i]?.mark;
      if (!mark || on.has(JSON.stringify([mark.rows, mark.across]))) return value;
      const is = value && typeof value === "object" && !Array.isArray(value) ? value : { value };
      const style = (is as { itemStyle?: object }).itemStyle;
      return { ...is, itemStyle: { ...style, opacity: 0.3 } };
    }),
  }));
  return { ...option, series };
}
