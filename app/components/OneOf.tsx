import ToggleButton, { type ToggleButtonProps } from "@mui/material/ToggleButton";
import ToggleButtonGroup, { type ToggleButtonGroupProps } from "@mui/material/ToggleButtonGroup";
import type { ReactNode } from "react";

interface Choice<T> {
  value: T;
  /** what it is called, for everybody */
  name: string;
  /** what is seen instead of its name */
  look?: ReactNode;
}

interface Props<T extends string> {
  label: string;
  value: T;
  choices: readonly Choice<T>[];
  onChoose: (value: T) => void;
  color?: ToggleButtonGroupProps["color"];
  sx?: ToggleButtonGroupProps["sx"];
  buttonSx?: ToggleButtonProps["sx"];
}

/** One of a few, all in view: a row of buttons of which one is pressed, and stays so until another is. */
export function OneOf<T extends string>({
  label,
  value,
  choices,
  onChoose,
  color = "primary",
  sx,
  buttonSx,
}: Props<T>) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      color={color}
      aria-label={label}
      value={value}
      onChange={(_, next: T | null) => next && onChoose(next)}
      sx={sx}
    >
      {choices.map(({ value: of, name, look }) => (
        <ToggleButton
          key={of}
          value={of}
          sx={buttonSx}
          {...(look !== undefined && look !== name && { "aria-label": name, title: name })}
        >
          {look ?? name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
