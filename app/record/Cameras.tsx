import { useSyncExternalStore } from "react";
import { OneOf } from "../components/OneOf";
import { tab } from "./tab";

/** Where there are several cameras: which of them is recorded, from one to the other in one press. */
export function Cameras() {
  const { cameras } = useSyncExternalStore(tab.subscribe, tab.snapshot);
  if (!cameras || cameras.list.length < 2) return null;
  const choices = cameras.list.map(({ id, name }, i) => ({ value: id, name, look: `Camera ${i + 1}` }));
  return (
    <OneOf
      label="Camera"
      value={cameras.chosen ?? ""}
      choices={choices}
      onChoose={cameras.choose}
      sx={{ flexWrap: "wrap" }}
      buttonSx={{ flex: 1, minHeight: 36, py: 0.5 }}
    />
  );
}
