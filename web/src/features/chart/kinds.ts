/** What a kind of chart is called in a list: "Heat grid", of "a heat grid". */
export const kindName = (words: string) => words.replace(/^an? /, "").replace(/^./, (l) => l.toUpperCase());
