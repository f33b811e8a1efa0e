import AccountBox from "@mui/icons-material/AccountBox";
import AccountBoxOutlined from "@mui/icons-material/AccountBoxOutlined";
import Fullscreen from "@mui/icons-material/Fullscreen";
import Keyboard from "@mui/icons-material/Keyboard";
import Pause from "@mui/icons-material/Pause";
import PlayArrow from "@mui/icons-material/PlayArrow";
import Subtitles from "@mui/icons-material/Subtitles";
import SubtitlesOutlined from "@mui/icons-material/SubtitlesOutlined";
import VolumeOff from "@mui/icons-material/VolumeOff";
import VolumeUp from "@mui/icons-material/VolumeUp";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import type { ReactNode } from "react";
import { formatClock, SECOND, spokenLength, toSeconds } from "#core/time/micros";
import { RATES, type Player } from "./player";
import type { PlayerState } from "./player-state";

interface Props {
  player: Player | null;
  state: PlayerState;
  camera: { shown: boolean; toggle: () => void } | null;
  captions: { on: boolean; toggle: () => void } | null;
  lanes: ReactNode;
  onFull: () => void;
  onKeys: () => void;
  /** in one row, also where there is little room: signs in place of words */
  compact: boolean;
}

/** The controls stand under the picture on their own pane; nothing covers what is explained. */
export function ControlBar({ player, state, camera, captions, lanes, onFull, onKeys, compact }: Props) {
  const { playing, time, duration, buffered, rate, volume, muted } = state;
  return (
    <Box
      role="group"
      aria-label="Player"
      sx={{
        border: "1px solid",
        borderTop: 0,
        borderColor: "mist",
        bgcolor: "background.paper",
        px: { xs: 1, sm: 2 },
        pb: 0.5,
      }}
    >
      <Box sx={{ position: "relative" }}>
        <Box
          aria-hidden
          sx={{
            position: "absolute",
            left: 0,
            top: "50%",
            height: 4,
            mt: "-2px",
            bgcolor: "text.secondary",
            opacity: 0.35,
          }}
          style={{ width: duration ? `${(100 * buffered) / duration}%` : 0 }}
        />
        <Slider
          aria-label="Position"
          size="small"
          min={0}
          max={Math.max(1, toSeconds(duration))}
          step={0.1}
          value={Math.min(toSeconds(time), Math.max(1, toSeconds(duration)))}
          getAriaValueText={(v) => `${spokenLength(v * SECOND)} of ${spokenLength(duration)}`}
          onChange={(_, v) => player?.seek(Math.round((v as number) * SECOND))}
          // The page's own keys move it; the slider's would move it a second time.
          onKeyDownCapture={(e) => e.key.startsWith("Arrow") && e.preventDefault()}
          sx={{
            display: "block",
            py: "14px !important",
            "& .MuiSlider-thumb": { borderRadius: "50% 50% 0 0 / 43% 43% 0 0", width: 14, height: 16 },
          }}
        />
      </Box>
      {lanes}
      <Box
        sx={{ display: "flex", alignItems: "center", gap: { xs: 0.5, sm: 1 }, flexWrap: compact ? "nowrap" : "wrap" }}
      >
        <Button
          variant="contained"
          startIcon={compact ? null : playing ? <Pause /> : <PlayArrow />}
          aria-label={playing ? "Pause" : "Play"}
          onClick={() => player?.toggle()}
          disabled={!player}
          sx={{ minWidth: compact ? 48 : 104, px: compact ? 1 : undefined }}
        >
          {compact ? playing ? <Pause /> : <PlayArrow /> : playing ? "Pause" : "Play"}
        </Button>
        <Box component="span" className="clock" sx={{ px: 1, minWidth: 96, whiteSpace: "nowrap" }}>
          {formatClock(time)} / {formatClock(duration)}
        </Box>
        <IconButton
          aria-label={muted ? "Sound on" : "Sound off"}
          aria-pressed={muted}
          onClick={() => player?.setMuted(!muted)}
        >
          {muted ? <VolumeOff /> : <VolumeUp />}
        </IconButton>
        <Slider
          data-own-keys
          aria-label="Volume"
          size="small"
          min={0}
          max={1}
          step={0.05}
          value={muted ? 0 : volume}
          onChange={(_, v) => player?.setVolume(v as number)}
          sx={{ width: 80, display: { xs: "none", [compact ? "md" : "sm"]: "block" } }}
        />
        <Select
          size="small"
          variant="standard"
          disableUnderline
          value={rate}
          onChange={(e) => player?.setRate(Number(e.target.value))}
          inputProps={{ "aria-label": "Speed" }}
          sx={{ px: 1 }}
        >
          {RATES.map((r) => (
            <MenuItem key={r} value={r}>
              {r}×
            </MenuItem>
          ))}
        </Select>
        {camera && (
          <Switch
            words={camera.shown ? "Hide camera" : "Show camera"}
            sign={compact ? camera.shown ? <AccountBox /> : <AccountBoxOutlined /> : null}
            pressed={!camera.shown}
            onPress={camera.toggle}
          />
        )}
        {captions && (
          <Switch
            words={captions.on ? "Captions off" : "Captions"}
            sign={compact ? captions.on ? <Subtitles /> : <SubtitlesOutlined /> : null}
            pressed={captions.on}
            onPress={captions.toggle}
          />
        )}
        <Box sx={{ ml: "auto", display: "flex" }}>
          <IconButton
            aria-label="Keys"
            onClick={onKeys}
            sx={{ display: { xs: "none", [compact ? "md" : "sm"]: "inline-flex" } }}
          >
            <Keyboard />
          </IconButton>
          <IconButton aria-label="Full screen" onClick={onFull}>
            <Fullscreen />
          </IconButton>
        </Box>
      </Box>
    </Box>
  );
}

/** Something that is on or off, by its words, or by a sign where there is no room for them. */
function Switch({
  words,
  sign,
  pressed,
  onPress,
}: {
  words: string;
  sign: ReactNode;
  pressed: boolean;
  onPress: () => void;
}) {
  return sign ? (
    <IconButton aria-label={words} title={words} aria-pressed={pressed} onClick={onPress}>
      {sign}
    </IconButton>
  ) : (
    <Button size="small" aria-pressed={pressed} onClick={onPress}>
      {words}
    </Button>
  );
}
