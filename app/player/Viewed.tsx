import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import type { Rect, Size } from "#core/layout/layout";
import { fitted, nearerBy, turnedSize, type View } from "#core/layout/view";
import { placeStyle } from "../components/place";

interface Props {
  /** what of the picture is shown; all of it, where that is not told */
  view: View | undefined;
  picture: Size;
  /** the shape of the box that it is in */
  box: Size;
  how: "fit" | "cover";
  children: ReactNode;
}

/** A picture, and what is drawn on it, as it is turned, straightened and cut. */
export function Viewed({ view, picture, box, how, children }: Props) {
  return (
    <Box sx={WITHIN} style={view && outerStyle(view, picture, box, how)}>
      <Box sx={WITHIN} style={view && innerStyle(view, picture)}>
        {children}
      </Box>
    </Box>
  );
}

const WITHIN = { position: "absolute", inset: 0 } as const;
const percent = (share: number) => `${100 * share}%`;

function outerStyle(view: View, picture: Size, box: Size, how: "fit" | "cover") {
  const { x, y, width, height } = view.crop;
  const sides = [y, 1 - x - width, 1 - y - height, x].map(percent).join(" ");
  return { inset: "auto", ...placeStyle(fitted(picture, view, box, how)), clipPath: `inset(${sides})` };
}

/** In a box of the shape of the turned picture: the picture before it is turned, about the same middle. */
function innerStyle({ turn, tilt }: View, picture: Size) {
  const turned = turnedSize(picture, turn);
  const lies = turn % 180 === 0;
  return {
    inset: "auto",
    left: "50%",
    top: "50%",
    width: lies ? "100%" : percent(turned.height / turned.width),
    height: lies ? "100%" : percent(turned.width / turned.height),
    transform: `translate(-50%, -50%) rotate(${turn + tilt}deg) scale(${nearerBy(turned, tilt)})`,
  };
}

interface ZoomedProps {
  /** what fills the box; all of it, where that is not told */
  place: Rect | undefined;
  /** how long it takes to come and go, in ms; 0 for at once */
  ease: number;
  children: ReactNode;
}

/** What is in a box, as near as a place of it fills it. */
export function Zoomed({ place, ease, children }: ZoomedProps) {
  const { x, y, width } = place ?? { x: 0, y: 0, width: 1 };
  return (
    <Box
      data-zoomed={place !== undefined}
      sx={{ ...WITHIN, transformOrigin: "0 0" }}
      style={{
        transform: place ? `scale(${1 / width}) translate(${percent(-x)}, ${percent(-y)})` : "none",
        transition: ease > 0 ? `transform ${ease}ms ease-in-out` : "none",
      }}
    >
      {children}
    </Box>
  );
}
