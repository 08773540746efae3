import { PDFDocument } from "pdf-lib";
import { pagesOf } from "./pages";

/** A page is as wide as A4 lying, and as tall as it at most, in points. */
const page = { width: 841.89, height: 595.28 };

/**
 * A picture (JPEG) as a PDF: on one page where it has no panels to be cut between or is short enough, else on several.
 * Edges of panels are parts of the height.
 */
export async function pdfOf(image: Blob, title: string, panels: { top: number; bottom: number }[]): Promise<Blob> {
  const doc = await PDFDocument.create();
  doc.setTitle(title);
  doc.setCreator("Uzzel");
  const picture = await doc.embedJpg(await image.arrayBuffer());
  const height = (picture.height / picture.width) * page.width;
  const edges = panels.map((p) => ({ top: p.top * height, bottom: p.bottom * height }));
  for (const { from, to } of pagesOf(edges, height, panels.length > 1 ? page.height : height)) {
    doc.addPage([page.width, to - from]).drawImage(picture, { x: 0, y: to - height, width: page.width, height });
  }
  return new Blob([(await doc.save()) as BlobPart], { type: "application/pdf" });
}
