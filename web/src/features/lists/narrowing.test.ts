import { describe, expect, it } from "vitest";
import type { Brief, Tree } from "../../api/client";
import { brokenDown, drawnOf, letGo, narrowedBy, notNarrowed, picked, taken } from "./narrowing";

const cond = (field: string, value: string): Tree => ({ field, is: "any_of", values: [value] });
const [open, design, ilva] = [cond("status", "open"), cond("stage", "Design"), cond("owner", "7")];
const list = { version: 1, start: "deals", filter: { all: [open] } } as Brief;
const mark = { rows: ["=Design"], across: [] };

const both = picked(brokenDown(picked(notNarrowed, [design], [mark]), { field: "owner" }), [ilva], []);

describe("what a chart narrows its list to", () => {
  it("adds to the list, and the chart is of what was there before its own marks", () => {
    const once = picked(notNarrowed, [design], [mark]);
    expect(narrowedBy(list, once).filter?.all).toEqual([open, design]);
    expect(drawnOf(list, once).filter?.all).toEqual([open]);
    expect(narrowedBy(list, both).filter?.all).toEqual([open, design, ilva]);
    expect(drawnOf(list, both).filter?.all).toEqual([open, design]);
  });

  it("takes other marks in place of those that were picked at the same step", () => {
    expect(picked(both, [cond("owner", "9")], []).from).toEqual([[design], [cond("owner", "9")]]);
  });

  it("lets each go singly, and a step that has none any more with its field", () => {
    expect(letGo(both, ilva)).toEqual({ from: [[design]], by: [{ field: "owner" }] });
    expect(letGo(both, design)).toEqual({ from: [[ilva]], by: [], marks: [] });
    expect(letGo(letGo(both, design), ilva).from).toEqual([]);
  });

  it("stays apart from the list's own conditions when the sentence is edited", () => {
    const edited = { ...list, filter: { all: [cond("source", "Tender"), design, ilva] } } as Brief;
    expect(taken(edited, both)).toEqual({
      list: { ...list, filter: { all: [cond("source", "Tender")] } },
      narrowing: both,
    });
    // A condition of the chart's that is taken out of the sentence is let go in the chart.
    expect(taken({ ...list, filter: { all: [open, ilva] } } as Brief, both).narrowing.from).toEqual([[ilva]]);
  });
});
