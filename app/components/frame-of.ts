/** What a video shows now, whole, as finely as it is. */
export function frameOf(video: HTMLVideoElement, as: ImageEncodeOptions): Promise<Blob> {
  const canvas = new OffscreenCanvas(video.videoWidth, video.videoHeight);
  canvas.getContext("2d", { alpha: false })!.drawImage(video, 0, 0);
  return canvas.convertToBlob(as);
}
