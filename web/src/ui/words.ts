/** Says of texts whether they have all the words of a search, whatever the case. */
export function searched(search: string): (...texts: string[]) => boolean {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return (...texts) => {
    const all = texts.join(" ").toLowerCase();
    return words.every((w) => all.includes(w));
  };
}
