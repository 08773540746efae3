import { toast } from "sonner";
import { Refused } from "../api/client";

/** Why something did not work, in words for the person. */
export const reason = (e: unknown) => (e instanceof Refused ? e.message : "That did not work. Try again.");

/** Tells it in passing. */
export const tell = (e: unknown) => toast.error(reason(e));
