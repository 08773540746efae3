// Sets the theme before anything is drawn: the reader's choice, else the system's.
const kept = localStorage.getItem("theme");
const dark = kept ? kept === "ink" : matchMedia("(prefers-color-scheme: dark)").matches;
document.documentElement.dataset.theme = dark ? "ink" : "paper";
