import Markdown from "react-markdown";
import { Drawer } from "../../ui/Drawer";
import { type HelpPage, helpPages, openHelp } from "../../ui/help";
import { shotOf, textOf } from "./guide";

const order = Object.keys(helpPages) as HelpPage[];

/** A page of the guide, beside what one is at. */
export function Help({ page }: { page: HelpPage }) {
  const at = order.indexOf(page);
  const step = (to: HelpPage | undefined, word: string) =>
    to && (
      <button type="button" className="link" onClick={() => openHelp(to)}>
        {word}: {helpPages[to]}
      </button>
    );
  return (
    <Drawer open onClose={() => openHelp(undefined)} title={helpPages[page]} beside narrow>
      <select
        className="input mt-2 mb-3"
        aria-label="Page of the guide"
        value={page}
        onChange={(e) => openHelp(e.target.value as HelpPage)}
      >
        {order.map((k, i) => (
          <option key={k} value={k}>
            {i + 1}. {helpPages[k]}
          </option>
        ))}
      </select>
      <div className="guide" key={page}>
        <Markdown
          urlTransform={(url) => url}
          components={{
            h1: () => null, // it is the title of the drawer
            a: ({ href, children }) => (
              <button type="button" className="link" onClick={() => openHelp(href?.replace("help:", "") as HelpPage)}>
                {children}
              </button>
            ),
            img: ({ src, alt }) => (
              <img
                src={shotOf(String(src).replace("shot:", ""))}
                alt={alt}
                className="my-3 rounded border border-line"
              />
            ),
          }}
        >
          {textOf(page)}
        </Markdown>
      </div>
      <p className="mt-5 flex justify-between gap-4">
        <span>{step(order[at - 1], "Before")}</span>
        <span>{step(order[at + 1], "Next")}</span>
      </p>
    </Drawer>
  );
}
