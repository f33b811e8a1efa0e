// The package has types for its whole build only; the light one is a part of that.
declare module "hls.js/light" {
  export * from "hls.js";
  export { default } from "hls.js";
}
