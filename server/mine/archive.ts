import { Readable } from "node:stream";
import { ZipFile } from "yazl";

/** A file of an archive. It is read when its turn has come. */
export interface ArchiveFile {
  name: string;
  at: Date;
  /** does it get smaller? pictures and sounds are as small as they get */
  packs: boolean;
  read: () => AsyncIterable<Uint8Array | string>;
}

/**
 * A ZIP archive (APPNOTE 6.3, with its 64-bit sizes where they are needed) that is written as fast as it is taken: no
 * more of it than a few pieces is in memory. Nothing of it is read any more once it is destroyed.
 */
export function archiveOf(files: Iterable<ArchiveFile>): Readable {
  const zip = new ZipFile();
  const out = zip.outputStream as Readable;
  const now: { reading?: Readable } = {};
  for (const { name, at, packs, read } of files)
    zip.addReadStreamLazy(name, { mtime: at, compress: packs }, (give) => {
      now.reading = Readable.from(read(), { objectMode: false });
      // What gives a stream late answers for its errors as well.
      now.reading.once("error", (error: Error) => out.destroy(error));
      give(null, now.reading);
    });
  zip.on("error", (error: Error) => out.destroy(error));
  out.once("close", () => now.reading?.destroy());
  zip.end();
  return out;
}
