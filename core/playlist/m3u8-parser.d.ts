declare module "m3u8-parser" {
  /** As far as the checks use it. */
  export class Parser {
    push(text: string): void;
    end(): void;
    manifest: {
      endList?: boolean;
      targetDuration: number;
      playlistType?: string;
      mediaSequence: number;
      segments: { uri: string; duration: number; map: { uri: string } }[];
      playlists?: {
        uri: string;
        attributes: Record<string, unknown> & { RESOLUTION?: { width: number; height: number } };
      }[];
      mediaGroups: { AUDIO: Record<string, Record<string, { uri: string }>> };
    };
  }
}
