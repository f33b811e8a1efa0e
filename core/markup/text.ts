/** Text within an element or an attribute of HTML, or of XML (the same five). */
export const escaped = (text: string): string =>
  text.replaceAll(/[&<>"']/g, (character) => `&#${character.codePointAt(0)};`);

/** Characters that XML 1.0 has no way to write (2.2). */
const CONTROL = /(?![\t\n\r\x7f-\x9f])\p{Cc}|[\ufffe\uffff]/gu;

/** Text as XML can hold it. */
export const inXml = (text: string): string => text.replaceAll(CONTROL, "");
