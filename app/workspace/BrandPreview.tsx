import Box from "@mui/material/Box";
import type { BrandColors, Scheme } from "#core/brand/colors";
import { SURFACES } from "#core/brand/surfaces";
import type { Emblem } from "#server/workspaces/brands";
import { EmblemPicture } from "../brand/EmblemPicture";
import { theme } from "../theme";

const NAMES: Record<Scheme, string> = { light: "Where it is light", dark: "Where it is dark" };

interface Props {
  scheme: Scheme;
  name: string;
  emblem: Emblem | null;
  colors: BrandColors;
}

/** A small link page in one scheme, whichever the page itself has. */
export function BrandPreview({ scheme, name, emblem, colors: { accent, bar } }: Props) {
  const ours = theme.colorSchemes[scheme]!.palette;
  const { papers } = SURFACES[scheme];
  const main = accent ?? { main: ours.primary.main, text: ours.primary.contrastText };
  const top = bar ?? { main: ours.bar.main, text: ours.bar.contrastText };
  return (
    <Box component="figure" sx={{ m: 0, minWidth: 0 }}>
      <Box component="figcaption" sx={{ fontSize: 14, color: "text.secondary", mb: 0.5 }}>
        {NAMES[scheme]}
      </Box>
      <Box
        sx={{ border: "1px solid", borderColor: "mist" }}
        style={{ background: papers[0], color: ours.text.primary }}
      >
        <Box
          sx={{ height: 48, px: 1.5, display: "flex", alignItems: "center", gap: 1, fontWeight: 600 }}
          style={{ background: top.main, color: top.text }}
        >
          {emblem && <EmblemPicture emblem={emblem} name="" />}
          {name}
        </Box>
        <Box sx={{ p: 1.5, display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
          <Box
            component="span"
            sx={{ px: 2, py: 1, fontWeight: 600 }}
            style={{ background: main.main, color: main.text }}
          >
            Give a nod
          </Box>
          <Box component="span" sx={{ textDecoration: "underline" }} style={{ color: main.main }}>
            A link to a moment
          </Box>
        </Box>
      </Box>
    </Box>
  );
}
