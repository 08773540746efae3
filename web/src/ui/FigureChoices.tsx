import type { Schemas } from "../api/client";

type Ways = Schemas["FigureWays"][];

/** Two choices: how numbers and amounts are written, and how days are, each way by an example. */
export function FigureChoices({
  ways,
  dayWays,
  tag,
  days,
  everyones,
  onChange,
}: {
  ways: Ways;
  dayWays: Ways;
  tag: string;
  days: string;
  /** How they are written for everyone, where a person may keep to that. */
  everyones?: { tag: string; days: string };
  onChange: (to: { tag?: string; days?: string }) => void;
}) {
  const example = (list: Ways, of: string) => list.find((w) => w.tag === of)?.example;
  return (
    <>
      <select
        className="input !w-64"
        aria-label="How figures are written"
        value={tag}
        onChange={(e) => onChange({ tag: e.target.value })}
      >
        {everyones && <option value="">as for everyone: {example(ways, everyones.tag)}</option>}
        {ways.map((w) => (
          <option key={w.tag} value={w.tag}>
            {w.example}
          </option>
        ))}
      </select>
      {tag !== "" && (
        <select
          className="input !w-48"
          aria-label="How days are written"
          value={days}
          onChange={(e) => onChange({ days: e.target.value })}
        >
          {dayWays.map((w) => (
            <option key={w.tag} value={w.tag}>
              {w.example}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
