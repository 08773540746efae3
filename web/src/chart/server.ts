import { init, setPlatformAPI } from "echarts/core";
import type { Drawing } from "../api/client";
import { onGround, options, type Tokens } from "./options";
import "./parts";

/** What the program gives that draws pictures without a browser: how wide a text is in a font, as CSS writes it. */
declare const measure: (text: string, font: string) => number;

setPlatformAPI({ measureText: (text, font) => ({ width: measure(text, font ?? "12px sans-serif") }) });

/** A drawing as SVG, of the same options as on the screen. */
export function draw(drawing: string, share: boolean, tokens: Tokens, width: number, height: number): string {
  const d = JSON.parse(drawing) as Drawing;
  const chart = init(null, undefined, { renderer: "svg", ssr: true, width, height });
  chart.setOption({ ...options(onGround(d, tokens.dark), share, tokens, [width, height], true), animation: false });
  const svg = chart.renderToSVGString();
  chart.dispose();
  return svg;
}
