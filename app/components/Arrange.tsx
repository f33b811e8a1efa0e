import Box from "@mui/material/Box";
import { SCENE_KINDS, sideOf, type Arrangement, type InsetSize, type Place, type SceneKind } from "#core/layout/layout";
import { OneOf } from "./OneOf";
import { SelectField } from "./SelectField";

const PLACE_NAMES: Record<Place, string> = {
  "bottom-right": "Bottom right",
  "bottom-left": "Bottom left",
  "top-right": "Top right",
  "top-left": "Top left",
  right: "Right",
  left: "Left",
  top: "Top",
  bottom: "Bottom",
  middle: "Middle",
};
const SIDE_NAMES = { right: "Right", left: "Left" };
const SIZE_NAMES: Record<InsetSize, string> = { small: "Small", medium: "Medium", large: "Large" };
const SCENE_NAMES: Record<SceneKind, string> = {
  inset: "Inset",
  beside: "Beside",
  camera: "Camera alone",
  screen: "Screen alone",
};

interface Props {
  arrangement: Arrangement;
  onArrange: (change: Partial<Arrangement>) => void;
}

/** What is seen, and where the camera picture is: the same by keyboard as by dragging. */
export function Arrange({ arrangement: { scene, place, size }, onArrange }: Props) {
  return (
    <Box
      role="group"
      aria-label="Camera picture"
      sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}
    >
      <Scenes scene={scene} onScene={(next) => onArrange({ scene: next })} />
      {scene === "inset" && (
        <SelectField
          label="Place"
          value={place}
          names={PLACE_NAMES}
          onChoose={(next) => onArrange({ place: next })}
          minWidth={130}
        />
      )}
      {scene === "beside" && (
        <SelectField
          label="Side"
          value={sideOf(place)}
          names={SIDE_NAMES}
          onChoose={(next) => onArrange({ place: next })}
          minWidth={100}
        />
      )}
      {(scene === "inset" || scene === "beside") && (
        <SelectField
          label="Size"
          value={size}
          names={SIZE_NAMES}
          onChoose={(next) => onArrange({ size: next })}
          minWidth={100}
        />
      )}
    </Box>
  );
}

const SHORT_NAMES: Record<SceneKind, string> = { ...SCENE_NAMES, camera: "Camera", screen: "Screen" };

interface ScenesProps {
  scene: SceneKind;
  onScene: (scene: SceneKind) => void;
  /** where there is little room */
  short?: boolean;
}

/** The four scenes, one of which is seen. */
export function Scenes({ scene, onScene, short = false }: ScenesProps) {
  const names = short ? SHORT_NAMES : SCENE_NAMES;
  const choices = SCENE_KINDS.map((value) => ({ value, name: SCENE_NAMES[value], look: names[value] }));
  return <OneOf label="Scene" value={scene} choices={choices} onChoose={onScene} sx={{ flexWrap: "wrap" }} />;
}
