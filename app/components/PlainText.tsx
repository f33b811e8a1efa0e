import { Fragment } from "react";
import { piecesOf } from "#core/answers/text";

/** A text that people wrote, with its links and its emphasis. There is no way for it to become anything else. */
export function PlainText({ text }: { text: string }) {
  return (
    <span style={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}>
      {piecesOf(text).map((piece, i) => {
        if (piece.kind === "link") {
          return (
            <a key={i} href={piece.href} target="_blank" rel="noopener noreferrer nofollow">
              {piece.text}
            </a>
          );
        }
        if (piece.kind === "strong") return <strong key={i}>{piece.text}</strong>;
        return piece.kind === "stress" ? <em key={i}>{piece.text}</em> : <Fragment key={i}>{piece.text}</Fragment>;
      })}
    </span>
  );
}
