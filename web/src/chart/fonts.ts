let kept: Promise<string> | undefined;

/** The letters that the page uses, as rules that a picture carries with it. */
export function fontRules(): Promise<string> {
  kept ??= gather().catch((e) => {
    kept = undefined;
    throw e;
  });
  return kept;
}

const key = (family: string, range: string) =>
  `${family.replace(/["']/g, "")} ${range.replace(/\s/g, "").toUpperCase()}`;

async function gather(): Promise<string> {
  const used = new Set(
    [...document.fonts].filter((f) => f.status === "loaded").map((f) => key(f.family, f.unicodeRange)),
  );
  const list: string[] = [];
  for (const { rule, at } of faces()) {
    const { style } = rule;
    if (!used.has(key(style.getPropertyValue("font-family"), style.getPropertyValue("unicode-range")))) continue;
    const url = /url\(["']?([^"')]+)["']?\)/.exec(style.getPropertyValue("src"))?.[1];
    if (!url) continue;
    const data = await inline(new URL(url, at).href);
    list.push(rule.cssText.replace(/src:[^;}]+/, `src: url("${data}") format("woff2")`));
  }
  return list.join("\n");
}

function faces(): { rule: CSSFontFaceRule; at: string }[] {
  const out: { rule: CSSFontFaceRule; at: string }[] = [];
  const walk = (rules: CSSRuleList, at: string) => {
    for (const rule of rules) {
      if (rule instanceof CSSFontFaceRule) out.push({ rule, at });
      else if ("cssRules" in rule) walk(rule.cssRules as CSSRuleList, at);
    }
  };
  for (const sheet of document.styleSheets) walk(sheet.cssRules, sheet.href ?? location.href);
  return out;
}

async function inline(url: string): Promise<string> {
  const blob = await (await fetch(url)).blob();
  return new Promise((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result as string);
    reader.onerror = () => fail(reader.error);
    reader.readAsDataURL(blob);
  });
}
