import type { ReactionKind } from "#core/answers/kinds";

/**
 * Our five, drawn with the hairlines of a pane: a nod's stroke, mist on glass, a finial, a smile under an arch, a
 * sprig.
 */
const PATHS: Record<ReactionKind, string> = {
  "got-it": "M4 21V11a8 8 0 0 1 16 0v10z M8 13l3.2 3.4L16.4 10",
  "not-clear":
    "M4 21V11a8 8 0 0 1 16 0v10z M7 12c1.7-1.6 3.3 1.6 5 0s3.3 1.6 5 0 M7 16.5c1.7-1.6 3.3 1.6 5 0s3.3 1.6 5 0",
  "good-point": "M12 2.5l3 5-3 3.4-3-3.4z M12 11v4 M6 21c0-4 2.6-6 6-6s6 2 6 6z",
  smile: "M4 21V11a8 8 0 0 1 16 0v10z M8 14c1 2.6 7 2.6 8 0 M9.4 9.6v.8 M14.6 9.6v.8",
  thanks:
    "M12 21.5V9 M12 14c-4.5 0-6.5-2.3-6.5-5.5C10 8.500 12 10.500 12 14z M12 11c0-4 2-6.500 6.500-7 .3 4.500-2 7-6.500 7z",
};

export function ReactionSign({ kind, size = 22 }: { kind: ReactionKind; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth={1.7}
      strokeLinejoin="round"
      strokeLinecap="round"
      aria-hidden
      style={{ display: "block" }}
    >
      <path d={PATHS[kind]} />
    </svg>
  );
}

/** Not clear is told in clay, the others in leaf; the sign and its name say it without colour. */
export const reactionColor = (kind: ReactionKind) => (kind === "not-clear" ? "clay.main" : "primary.main");
