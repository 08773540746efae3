import { useState } from "react";
import { api, ask } from "../../api/client";
import { Beak } from "../../ui/Beak";
import { Trouble } from "../../ui/Say";
import { useArrival } from "../../ui/useArrival";
import { useDo } from "../../ui/useDo";

/** Where a letter leads that one wants no more of. Nothing is done until one says so: programs open addresses, too. */
export function LeavePage() {
  const [key] = useState(() => location.hash.slice(1));
  const [title, setTitle] = useState<string>();
  const [error, setError] = useState<Error>();
  const [leave, busy] = useDo(
    () => ask(api.POST("/api/leave", { params: { query: { key } } })),
    (left) => setTitle(left.title),
    setError,
  );
  useArrival("/leave");
  return (
    <main id="content" className="mx-auto flex min-h-screen w-full max-w-[420px] flex-col justify-center px-5 py-8">
      <div className="mb-6 flex items-center gap-3">
        <Beak size={36} />
        <span className="title text-2xl">Uzzel</span>
      </div>
      {title === undefined ? (
        <>
          <h1 className="title mb-3 text-xl">Get it no longer?</h1>
          <p className="mb-4 text-ink2">You get no more of these mails. Under your inbox you can have them again.</p>
          <Trouble error={error} />
          <button type="button" className="btn btn-main self-start" disabled={busy} onClick={() => leave()}>
            Get it no longer
          </button>
        </>
      ) : (
        <>
          <h1 className="title mb-3 text-xl">You get “{title}” no longer</h1>
          <a className="link" href="/inbox">
            To my inbox, where I can have it again
          </a>
        </>
      )}
    </main>
  );
}
