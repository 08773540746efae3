import type { Role } from "./roles";

export type Invitee = { name: string; email: string; team: string; role: Role };

/**
 * Reads people from lines of CSV or of a spreadsheet: name, e-mail, team, role, of which the last two may be left out. A
 * line of headings is passed over. Lines that have no e-mail address come back by their number.
 */
export function invitees(text: string, role: Role): { people: Invitee[]; wrong: number[] } {
  const people: Invitee[] = [];
  const wrong: number[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    if (!line.trim()) return;
    const cells = cellsOf(line);
    const at = cells.findIndex((c) => c.includes("@"));
    if (at < 0) {
      if (!(people.length === 0 && wrong.length === 0 && /mail/i.test(line))) wrong.push(i + 1);
      return;
    }
    const [name = "", team = "", named = ""] = cells.filter((_, k) => k !== at);
    const own = named.trim().toLowerCase();
    people.push({
      name: name || cells[at].split("@")[0],
      email: cells[at],
      team,
      role: own === "administrator" || own === "composer" || own === "reader" ? own : role,
    });
  });
  return { people, wrong };
}

function cellsOf(line: string): string[] {
  const by = line.includes("\t") ? "\t" : line.includes(";") ? ";" : ",";
  const cells: string[] = [];
  let cell = "";
  let quoted = false;
  for (const c of line) {
    if (c === '"') quoted = !quoted;
    else if (c === by && !quoted) {
      cells.push(cell.trim());
      cell = "";
    } else cell += c;
  }
  return [...cells, cell.trim()];
}
