import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { download } from "../components/download";
import { qrCode } from "./qr";

/** The link as a code for a printed sheet, to be looked at and kept as a file. */
export function QrCode({ link, name }: { link: string; name: string }) {
  const [image, setImage] = useState<{ file: Blob; url: string } | null>(null);
  const [failed, setFailed] = useState(false);
  useEffect(() => {
    let url: string | null = null;
    let left = false;
    void qrCode(link).then(
      (svg) => {
        if (left) return;
        const file = new Blob([svg], { type: "image/svg+xml" });
        url = URL.createObjectURL(file);
        setImage({ file, url });
      },
      () => setFailed(true),
    );
    return () => {
      left = true;
      if (url) URL.revokeObjectURL(url);
    };
  }, [link]);
  if (failed)
    return (
      <Typography role="alert">
        The code could not be drawn: the page is older than the server. Load it anew.
      </Typography>
    );
  return (
    <Box sx={{ display: "flex", gap: 2, alignItems: "flex-end", flexWrap: "wrap", mt: 1 }}>
      <Box sx={{ width: 180, height: 180, bgcolor: "#fff", border: "1px solid", borderColor: "mist" }}>
        {image && <img src={image.url} alt={`QR code of ${link}`} width={178} height={178} />}
      </Box>
      <Box sx={{ display: "grid", gap: 1, justifyItems: "start" }}>
        <Typography variant="body2" color="text.secondary" sx={{ maxWidth: 260 }}>
          For a printed sheet, at least 2 cm wide. It leads to {link}.
        </Typography>
        <Button variant="outlined" disabled={!image} onClick={() => image && download(`${name}.svg`, image.file)}>
          Save it as a picture
        </Button>
      </Box>
    </Box>
  );
}
