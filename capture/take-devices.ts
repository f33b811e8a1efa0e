import type { Device } from "./recorder-state";

/** The camera and microphone of a take: which they are, which of them no page shows any more, and when one is lost. */
export class TakeDevices {
  #tracks = new Map<Device, MediaStreamTrack>();
  #givenOver = new Set<MediaStreamTrack>();

  /** @param onLost one of them has ended by itself */
  constructor(private readonly onLost: (device: Device) => void) {}

  of(device: Device): MediaStreamTrack | undefined {
    return this.#tracks.get(device);
  }

  /** The take has this one from now on; one before it that no page shows is ended. */
  use(device: Device, track: MediaStreamTrack): void {
    const had = this.#tracks.get(device);
    this.#tracks.set(device, track);
    if (had && this.#givenOver.delete(had)) had.stop();
    const gone = () => this.#tracks.get(device) === track && this.onLost(device);
    track.addEventListener("ended", gone);
    if (track.readyState === "ended") gone();
  }

  /** No page shows this one any more: it ends with the take. @returns whether the take has it */
  giveOver(device: Device, track: MediaStreamTrack): boolean {
    if (this.#tracks.get(device) !== track) return false;
    this.#givenOver.add(track);
    return true;
  }

  /** A page shows it again. @param id the one that is wanted; null for any @returns null where the take has none */
  takeOver(device: Device, id: string | null): MediaStreamTrack | null {
    const track = this.#tracks.get(device);
    if (!track || track.readyState === "ended" || (id && track.getSettings().deviceId !== id)) return null;
    this.#givenOver.delete(track);
    return track;
  }

  /** Ends those that no page shows. */
  end(): void {
    for (const track of this.#givenOver) track.stop();
    this.#givenOver.clear();
  }

  /** Another take goes on with the same ones. @returns those of them that no page shows, which are not ended now */
  handOn(): ReadonlySet<MediaStreamTrack> {
    const given = this.#givenOver;
    this.#givenOver = new Set();
    return given;
  }
}
