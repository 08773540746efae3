import type { Schemas } from "../api/client";

export type IconName = NonNullable<Schemas["TypeEditBody"]["icon"]>;

/** Small drawings that record types are shown with, of our own make, on a square of 20. */
const drawn: Record<IconName, string> = {
  anchor: "M10 3a2 2 0 1 1 0 4a2 2 0 1 1 0-4M10 7v10M6.5 9.5h7M3.5 11.5c0 3.5 3 5.5 6.5 5.5s6.5-2 6.5-5.5",
  boat: "M2.5 12.5h15l-2.5 4.5h-10zM10 12.5v-10l5.5 7.5h-5.5M7.5 10l2.5-5",
  berth: "M3 3v14M3 6h9M3 13h9M12 6v7M14.5 16.5c1-.9 2-.9 3 0",
  buoy: "M8 4h4l2.5 9h-9zM10 1.5v2.5M6.8 8.5h6.4M2.5 16c1.9-1.5 3.6-1.5 5 0s3.6 1.5 5 0s3.4-1.5 5 0",
  crane: "M5 17.5v-15l11 4h-11M13.5 6v5M12 11h3v3h-3zM2.5 17.5h5",
  crate: "M3 5.5h14v11h-14zM3 9h14M8 9v7.5M12 9v7.5",
  tag: "M3 3h7l7 7l-7 7l-7-7zM6.6 6.6l.1.1",
  tool: "M12.5 3a4 4 0 0 0-3.6 5.8l-6 6l2.3 2.3l6-6a4 4 0 0 0 5.3-5l-2.5 2.4l-2-.6l-.6-2l2.4-2.5a4 4 0 0 0-1.3-.4",
  leaf: "M4 16c0-8 4-12 13-12c0 9-4 13-11 11.5M3.5 17.5c2-5 5-7.5 8.5-9",
  house: "M3 10l7-6.5l7 6.5M5 8.5v8.5h10v-8.5M8.5 17v-5h3v5",
  people:
    "M7 4a2.5 2.5 0 1 1 0 5a2.5 2.5 0 1 1 0-5M2.5 17c0-4 2-5.5 4.5-5.5s4.5 1.5 4.5 5.5M13 5a2 2 0 1 1 0 4M13.5 11.5c2.5 0 4 1.5 4 5",
  paper: "M5 2.5h7l3.5 3.5v11.5h-10.5zM12 2.5v3.5h3.5M7.5 10h5.5M7.5 13.5h5.5",
  star: "M10 2.5l2.2 5l5.3.5l-4 3.6l1.2 5.4l-4.7-2.8l-4.7 2.8l1.2-5.4l-4-3.6l5.3-.5z",
  pin: "M10 18c-4-4.5-5.5-7-5.5-9.5a5.5 5.5 0 0 1 11 0c0 2.5-1.5 5-5.5 9.5M10 6.5a2 2 0 1 1 0 4a2 2 0 1 1 0-4",
  clock: "M10 3a7 7 0 1 1 0 14a7 7 0 1 1 0-14M10 6v4.5l3 2",
  coins:
    "M3 6c0-1.5 2-2.5 4.5-2.5s4.5 1 4.5 2.5s-2 2.5-4.5 2.5s-4.5-1-4.5-2.5M3 6v5c0 1.5 2 2.5 4.5 2.5M8 12c0-1.5 2-2.5 4.5-2.5s4.5 1 4.5 2.5s-2 2.5-4.5 2.5s-4.5-1-4.5-2.5M8 12v3c0 1.5 2 2.5 4.5 2.5s4.5-1 4.5-2.5v-3",
};

export const iconNames = Object.keys(drawn) as IconName[];

/** The drawing of a record type; nothing for a type without. */
export function TypeIcon({ icon, size = 16 }: { icon?: string; size?: number }) {
  const d = drawn[icon as IconName];
  if (!d) return null;
  return (
    <svg
      aria-hidden
      data-icon={icon}
      viewBox="0 0 20 20"
      width={size}
      height={size}
      className="mr-1.5 inline-block shrink-0 align-[-2px]"
      fill="none"
      stroke="currentColor"
      strokeWidth={1.6}
      strokeLinejoin="round"
      strokeLinecap="round"
    >
      <path d={d} />
    </svg>
  );
}
