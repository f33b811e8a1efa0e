/**
 * A link as a QR code (ISO/IEC 18004), for printed sheets: with the quiet zone around it, and still read where a
 * seventh of it cannot be seen.
 * @returns an SVG image, black on white
 */
export async function qrCode(link: string): Promise<string> {
  // Only when it is asked for: nobody who watches needs it.
  const { toString } = await import("qrcode");
  return toString(link, { type: "svg", errorCorrectionLevel: "M", margin: 4 });
}
