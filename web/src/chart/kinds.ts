/** What a kind of chart is called in a list: "Heat grid", of "a heat grid". */
export const kindName = (words: string) => words.replace(/^an? /, "").replace(/^./, (l) => l.toUpperCase());

/** Whether a kind of chart is one number, which needs no groups. */
export const isFigure = (kind: string | undefined) => kind === "figure" || kind === "progress";
