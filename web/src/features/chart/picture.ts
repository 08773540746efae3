import { download, fileName } from "../../ui/download";

/** A drawing on the screen as a file: as it is, or painted at twice its size. */
export async function picture(box: HTMLElement, name: string, as: "svg" | "png" | "jpeg") {
  const svg = box.querySelector("svg");
  if (!svg) throw new Error("There is no picture to take here; a table can be exported.");
  const { width, height } = svg.getBoundingClientRect();
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", getComputedStyle(box).getPropertyValue("--paper").trim() || "#fff");
  copy.insertBefore(ground, copy.firstChild);
  const text = new XMLSerializer().serializeToString(copy);
  const file = (blob: Blob) => download(blob, `${fileName(name)}.${as === "jpeg" ? "jpg" : as}`);
  if (as === "svg") return file(new Blob([text], { type: "image/svg+xml" }));
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = width * 2;
  canvas.height = height * 2;
  const pen = canvas.getContext("2d");
  pen?.scale(2, 2);
  pen?.drawImage(image, 0, 0, width, height);
  await new Promise<void>((done) =>
    canvas.toBlob(
      (blob) => {
        if (blob) file(blob);
        done();
      },
      `image/${as}`,
      0.92,
    ),
  );
}
