const scope = self as unknown as {
  postMessage(reached: true): void;
  onmessage: ((e: MessageEvent<number>) => void) | null;
};

const LOOK_MS = 50;

/** Says when a moment has come. It looks at the clock again and again: a computer may sleep, and its clock be set. */
scope.onmessage = ({ data: at }) => {
  const timer = setInterval(() => {
    if (Date.now() < at) return;
    clearInterval(timer);
    scope.postMessage(true);
  }, LOOK_MS);
};
