/** Small pictures of the kinds of charts, 24 by 18, in the colour of the text around them. */
const pictures: Record<string, React.ReactNode> = {
  column: <path d="M3 17V9h4v8zM10 17V3h4v14zM17 17V7h4v10z" />,
  bar: <path d="M2 2h19v4H2zM2 7.5h12v4H2zM2 13h7v4H2z" />,
  line: <path d="M2 14l6-6 5 3 9-9" fill="none" stroke="currentColor" strokeWidth="2.2" />,
  area: <path d="M2 17v-4l6-6 5 3 9-8v15z" />,
  pie: <path d="M12 9V1a8 8 0 1 1-7.4 5zM10.6 7.4L3.4 4.6A8 8 0 0 1 10.6 0z" />,
  ring: <path d="M12 1a8 8 0 1 1-.01 0zm0 5a3 3 0 1 0 .01 0z" fillRule="evenodd" />,
  funnel: <path d="M2 1h20l-3 4.5H5zM5.7 6.7h12.6l-2.5 4.4H8.2zM8.9 12.3h6.2L13 17h-2z" />,
  bridge: <path d="M2 7h4v10H2zM7.5 3h4v5h-4zM13 3h4v8h-4zM18.5 10h4v7h-4z" />,
  column_line: (
    <>
      <path d="M3 17v-6h4v6zM10 17V8h4v9zM17 17v-5h4v5z" opacity=".55" />
      <path d="M4 7l8-5 8 4" fill="none" stroke="currentColor" strokeWidth="2" />
    </>
  ),
  heat: (
    <>
      <path d="M2 1h6v5H2zM16 7h6v5h-6zM9 12.5h6V18H9z" opacity=".35" />
      <path d="M9 1h6v5H9zM2 7h6v5H2z" opacity=".65" />
      <path d="M16 1h6v5h-6zM9 7h6v5H9zM2 12.5h6V18H2zM16 12.5h6V18h-6z" />
    </>
  ),
  scatter: (
    <path
      d="M4 15a2 2 0 1 0 .01 0zM9 9a2 2 0 1 0 .01 0zM14 11a2 2 0 1 0 .01 0zM17 3a2 2 0 1 0 .01 0zM20 8a2 2 0 1 0 .01 0z"
      transform="translate(0 -2)"
    />
  ),
  bubble: (
    <path
      d="M6 11a3 3 0 1 0 .01 0zM13 3a5 5 0 1 0 .01 0zM20 11a2 2 0 1 0 .01 0z"
      transform="translate(0 -1)"
      opacity=".8"
    />
  ),
  figure: (
    <text x="12" y="15" textAnchor="middle" fontSize="15" fontWeight="700" fontFamily="var(--font-title)">
      12
    </text>
  ),
  progress: (
    <>
      <path d="M1 6h22v6H1z" opacity=".3" />
      <path d="M1 6h14v6H1z" />
    </>
  ),
  table: <path d="M2 2h20v3H2zM2 7h20v2H2zM2 11h20v2H2zM2 15h20v2H2z" opacity=".7" />,
};

export function KindPicture({ kind }: { kind: string }) {
  return (
    <svg viewBox="0 0 24 18" width="24" height="18" className="shrink-0" fill="currentColor" aria-hidden="true">
      {pictures[kind]}
    </svg>
  );
}
