import Bowser from "bowser";

/** What a browser says of itself, as people say it. */
export function browserOf(agent: string): string {
  if (agent === "") return "A browser";
  const { browser, os } = Bowser.parse(agent);
  return `${browser.name ?? "A browser"}${os.name ? ` on ${os.name}` : ""}`;
}
