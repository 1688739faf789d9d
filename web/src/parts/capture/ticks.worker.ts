// Ticks that come also while the page is hidden, whose own timers are slowed down then.
onmessage = ({ data }: MessageEvent<number>) => setInterval(() => postMessage(0), data);
