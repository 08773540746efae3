import { download, fileName } from "../ui/download";
import { fontRules } from "./fonts";
import { drawAll } from "./inView";

export type PictureKind = "png" | "jpeg" | "svg";

/** The margin around a picture. */
const margin = 14;

/** Takes a picture of something on the screen: as it is drawn there, in the theme it has there. */
export async function picture(box: HTMLElement, name: string, as: PictureKind) {
  await drawn(box);
  const file = (blob: Blob) => download(blob, `${fileName(name)}.${as === "jpeg" ? "jpg" : as}`);
  if (as === "svg") return file(await svgOf(box));
  // What can only be pressed, and what is said of the moment, is no part of it.
  box.classList.add("pictured");
  try {
    file(await painted(box, as === "png" ? "image/png" : "image/jpeg"));
  } finally {
    box.classList.remove("pictured");
  }
}

/** The picture of something on the screen as PNG, in base 64. */
export async function pictureText(box: HTMLElement): Promise<string> {
  await drawn(box);
  box.classList.add("pictured");
  try {
    const bytes = new Uint8Array(await (await painted(box, "image/png")).arrayBuffer());
    let text = "";
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return btoa(text);
  } finally {
    box.classList.remove("pictured");
  }
}

async function painted(box: HTMLElement, type: string): Promise<Blob> {
  const [{ toCanvas }, fontEmbedCSS] = await Promise.all([import("html-to-image"), fontRules()]);
  const { width, height } = box.getBoundingClientRect();
  const canvas = await toCanvas(box, {
    // Twice as fine as the screen, where the browser can paint one so large.
    pixelRatio: Math.min(2, 16_000 / Math.max(width, height)),
    backgroundColor: token(box, box.tagName === "ARTICLE" ? "--paper" : "--ground"),
    filter: (e) => !e.classList?.contains("sr-only"),
    skipAutoScale: true,
    width: width + 2 * margin,
    height: height + 2 * margin,
    style: { padding: `${margin}px`, boxSizing: "content-box", border: "none" },
    fontEmbedCSS,
  });
  const image = await new Promise<Blob | null>((done) => canvas.toBlob(done, type, 0.92));
  if (!image) throw new Error("The picture could not be painted.");
  return image;
}

const token = (box: HTMLElement, name: string) => getComputedStyle(box).getPropertyValue(name).trim() || "#fff";

/** Waits until all pictures in a box are drawn; not for ever, as one may be of nothing. */
async function drawn(box: HTMLElement) {
  drawAll();
  for (let tries = 0; tries < 50; tries++) {
    if ([...box.querySelectorAll<HTMLElement>("[data-kind]")].every((e) => e.dataset.finished)) return;
    await new Promise((done) => setTimeout(done, 60));
  }
}

/** The drawing alone, to be changed further elsewhere: with its ground and its letters. */
async function svgOf(box: HTMLElement): Promise<Blob> {
  const svg = box.querySelector<SVGSVGElement>("[data-kind] svg");
  if (!svg) throw new Error("There is no drawing to take here; a table can be exported, or taken as PNG.");
  const { width, height } = svg.getBoundingClientRect();
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", token(box, "--paper"));
  copy.insertBefore(ground, copy.firstChild);
  const style = document.createElementNS("http://www.w3.org/2000/svg", "style");
  style.textContent = await fontRules();
  copy.insertBefore(style, copy.firstChild);
  return new Blob([new XMLSerializer().serializeToString(copy)], { type: "image/svg+xml" });
}
