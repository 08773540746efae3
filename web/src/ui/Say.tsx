import { Refused } from "../api/client";

/** An error in words, where it happened. */
export function Trouble({ error }: { error: unknown }) {
  if (!error) return null;
  const text = error instanceof Refused ? error.message : "Something went wrong. Try again.";
  return (
    <p role="alert" className="rounded-md border border-rust bg-rust-soft px-3 py-2 text-ink">
      {text}
    </p>
  );
}

/** An empty state that offers the next step. */
export function Empty({ title, children }: { title: string; children?: React.ReactNode }) {
  return (
    <div className="px-6 py-12 text-center">
      <p className="title text-lg">{title}</p>
      <div className="mt-2 text-ink2">{children}</div>
    </div>
  );
}

/** Stands where there is something that this reader may not see: not nothing, and no more said of it. */
export const NotYours = () => <span className="text-ink3 italic">not yours to see</span>;
