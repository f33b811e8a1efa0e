/** What the handles of an area on a picture are called. */
export const AREA_LABELS = {
  cropArea: "The area. Arrow keys move it, with Shift ten at a time.",
  nwDragHandle: "Top left corner",
  nDragHandle: "Top side",
  neDragHandle: "Top right corner",
  eDragHandle: "Right side",
  seDragHandle: "Bottom right corner",
  sDragHandle: "Bottom side",
  swDragHandle: "Bottom left corner",
  wDragHandle: "Left side",
};

/** How an area on a picture is seen, on any picture. */
export const AREA_LOOKS = {
  "--rc-drag-handle-size": "16px",
  "--rc-drag-handle-bg-colour": "var(--mui-palette-marigold-main)",
  "--rc-border-color": "var(--mui-palette-bar-main)",
  "--rc-focus-color": "var(--mui-palette-marigold-main)",
  "& .ReactCrop, & .ReactCrop__child-wrapper": { width: 1, height: 1 },
  "& .ReactCrop__crop-selection, & .ReactCrop__crop-selection:not(.ReactCrop--no-animate *)": {
    animation: "none",
    backgroundImage: "none",
    outline: "2px solid var(--mui-palette-marigold-main)",
    boxShadow: "0 0 0 3px rgba(10,20,18,.7)",
  },
};
