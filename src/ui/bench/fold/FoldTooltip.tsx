interface Props {
  x: number;
  y: number;
  text: string;
}

/** What is under the pointer, or what a drag has come to, beside the pointer. */
export function FoldTooltip({ x, y, text }: Props) {
  return (
    <div
      className="figures pointer-events-none absolute border border-ink bg-sheet px-1.5 py-0.5 text-tiny whitespace-nowrap"
      style={{
        top: y > 60 ? y - 30 : y + 18,
        ...(x > 480 ? { right: `calc(100% - ${x - 8}px)` } : { left: x + 12 }),
      }}
    >
      {text}
    </div>
  );
}
