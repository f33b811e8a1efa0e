/** Gives a file to the person, as the browser does with downloads. */
export function download(name: string, file: Blob): void {
  const link = Object.assign(document.createElement("a"), { href: URL.createObjectURL(file), download: name });
  link.click();
  URL.revokeObjectURL(link.href);
}
