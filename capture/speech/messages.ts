/** Page → worker: a voice, mono, 16,000 samples a second. */
export interface SpeechWanted {
  samples: Int16Array<ArrayBuffer>;
}

/** Worker → page: of each frame, how likely it is that somebody speaks; null where that cannot be told. */
export interface SpeechReport {
  speech: Float32Array<ArrayBuffer> | null;
}
