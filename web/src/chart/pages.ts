/**
 * Where a tall picture is cut into pages: between panels where one ends on the page, else at its end. Given are the
 * panels' upper and lower edges, the picture's height and the most that a page holds, all in the same unit.
 */
export function pagesOf(
  panels: { top: number; bottom: number }[],
  height: number,
  most: number,
): { from: number; to: number }[] {
  const pages: { from: number; to: number }[] = [];
  for (let from = 0; from < height; ) {
    const end = from + most;
    const fits = panels
      .map((p) => p.bottom)
      .filter((y) => y > from && y <= end && !panels.some((p) => p.top < y && p.bottom > y))
      .sort((a, b) => b - a);
    const to = end >= height ? height : (fits[0] ?? end);
    pages.push({ from, to });
    from = to;
  }
  return pages;
}
