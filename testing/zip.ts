import { buffer } from "node:stream/consumers";
import { fromBuffer, type Entry, type ZipFile } from "yauzl";

/** Outside check: what another program reads of a ZIP archive, which checks sizes and sums as it does. */
export async function filesOf(archive: Buffer): Promise<Map<string, Buffer>> {
  const zip = await new Promise<ZipFile>((done, failed) =>
    fromBuffer(archive, { lazyEntries: true }, (error, zip) => (error ? failed(error) : done(zip))),
  );
  const files = new Map<string, Buffer>();
  const read = (entry: Entry) =>
    new Promise<Buffer>((done, failed) =>
      zip.openReadStream(entry, (error, stream) => (error ? failed(error) : buffer(stream).then(done, failed))),
    );
  return new Promise((done, failed) => {
    zip.on("entry", (entry: Entry) => {
      read(entry).then((bytes) => {
        files.set(entry.fileName, bytes);
        zip.readEntry();
      }, failed);
    });
    zip.on("end", () => done(files));
    zip.on("error", failed);
    zip.readEntry();
  });
}
