import { useEffect, useState } from "react";
import { later } from "../ui/later";
import { letterOf } from "../ui/letters";

const LogDialog = later(() => import("../features/records/LogDialog").then((m) => m.LogDialog));

/** Opens the line that writes down what was done, from any screen: by the letter L, or where it is asked for ("log"). */
export function Log() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      // A page with a line of its own takes the letter.
      if (letterOf(e) === "l" && !document.querySelector("[data-log],[data-letters]")) setOpen(true);
    };
    const asked = () => setOpen(true);
    window.addEventListener("keyup", key);
    window.addEventListener("log", asked);
    return () => {
      window.removeEventListener("keyup", key);
      window.removeEventListener("log", asked);
    };
  }, []);
  return open && <LogDialog onClose={() => setOpen(false)} />;
}
