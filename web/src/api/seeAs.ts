// Whom an administrator sees the application as. It holds for one window, until that is closed.
const key = "see as";

/** The number of the person whose screens are shown, null for one's own. */
export const seenAs = () => sessionStorage.getItem(key);

/** Shows all screens as a person would see them, or one's own again. */
export function seeAs(person: number | undefined) {
  if (person === undefined) sessionStorage.removeItem(key);
  else sessionStorage.setItem(key, String(person));
  location.assign("/");
}
