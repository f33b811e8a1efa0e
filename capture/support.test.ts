import { describe, expect, it } from "vitest";
import { lacks } from "./support";

const browser = (without: string[]) => {
  const all: Record<string, unknown> = {
    isSecureContext: true,
    VideoEncoder: class {},
    AudioEncoder: class {},
    MediaStreamTrackProcessor: class {},
    navigator: { mediaDevices: { getDisplayMedia: () => undefined } },
  };
  for (const name of without) {
    if (name === "getDisplayMedia") all.navigator = { mediaDevices: {} };
    else if (name === "mediaDevices") all.navigator = {};
    else if (name === "isSecureContext") all.isSecureContext = false;
    else delete all[name];
  }
  return all as unknown as typeof globalThis;
};

describe("what a browser lacks", () => {
  it("nothing", () => expect(lacks("screen-camera", browser([]))).toBeNull());
  it.each([
    ["isSecureContext", /secure address/],
    ["mediaDevices", /no camera, microphone or screen/],
    ["VideoEncoder", /WebCodecs/],
    ["MediaStreamTrackProcessor", /WebCodecs/],
    ["getDisplayMedia", /Choose Camera or Voice/],
  ])("without %s says so", (name, message) => expect(lacks("screen", browser([name]))).toMatch(message));
  it("without screen capture still records a camera", () =>
    expect(lacks("camera", browser(["getDisplayMedia"]))).toBeNull());
});
