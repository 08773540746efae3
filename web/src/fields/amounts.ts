/**
 * A number as it is typed, "€1,250.50", "50k", "1.2 million" or "30 %", in plain digits; nothing where it reads as none. A comma parts
 * thousands: what follows another one is no number, so that "12,5" is not taken for 125.
 */
export function plainNumber(text: string, kind: string): string | undefined {
  const typed = text.replace(/[\s€$£%]/g, "").toLowerCase();
  const said = /^(-?(?:\d+|\d{1,3}(?:,\d{3})+)(?:\.\d+)?)(k|thousand|m|million|mn|mio)?$/.exec(typed);
  if (!said) return undefined;
  const plain = larger(said[1].replaceAll(",", ""), said[2] ? (said[2][0] === "m" ? 6 : 3) : 0);
  return kind === "money" && !/^-?\d+(\.\d{1,2})?$/.test(plain) ? undefined : plain;
}

/** A plain number with its point moved to the right: "1.25" by three is "1250". */
function larger(plain: string, places: number): string {
  if (places === 0) return plain;
  const [whole, cut = ""] = plain.split(".");
  const moved = whole + cut.padEnd(places, "0").slice(0, places);
  const rest = cut.slice(places);
  return moved.replace(/^(-?)0+(?=\d)/, "$1") + (rest ? `.${rest}` : "");
}
