/** What a recorder that runs tells while it runs. */
export interface Running {
  seconds: number;
  rate: number;
  /** Highest and mean level of the last moment: of full scale for sound, in m/s² for shaking. */
  peak: number;
  level: number;
  clipped: boolean;
}

export interface Captured {
  body: Blob;
  file: string;
  /** How it was made: device, rate, what the browser did to it. */
  made: string;
  seconds: number;
}

export interface Recorder {
  stop: () => Promise<Captured>;
  drop: () => void;
}

/** A browser gives microphone and motion sensor to pages that it trusts only. */
export const trusted = () => window.isSecureContext;

const mostSeconds = 20 * 60;

/** A WAV of 32-bit floating samples, one channel. */
function wave(blocks: Float32Array[], rate: number): Blob {
  const frames = blocks.reduce((n, b) => n + b.length, 0);
  const head = new DataView(new ArrayBuffer(44));
  const word = (at: number, text: string) => [...text].forEach((c, i) => head.setUint8(at + i, c.charCodeAt(0)));
  word(0, "RIFF");
  head.setUint32(4, 36 + 4 * frames, true);
  word(8, "WAVEfmt ");
  head.setUint32(16, 16, true);
  head.setUint16(20, 3, true);
  head.setUint16(22, 1, true);
  head.setUint32(24, rate, true);
  head.setUint32(28, 4 * rate, true);
  head.setUint16(32, 4, true);
  head.setUint16(34, 32, true);
  word(36, "data");
  head.setUint32(40, 4 * frames, true);
  return new Blob([head.buffer, ...blocks.map((b) => b as Float32Array<ArrayBuffer>)], { type: "audio/wav" });
}

/** Records sound. What a telephone does to voices is turned off, and what stays on is said. */
export async function recordSound(tell: (r: Running) => void): Promise<Recorder> {
  const stream = await navigator.mediaDevices.getUserMedia({
    audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: 1 },
  });
  const audio = new AudioContext();
  await audio.audioWorklet.addModule("/samples.js");
  const blocks: Float32Array[] = [];
  let frames = 0;
  let clipped = 0;
  const node = new AudioWorkletNode(audio, "samples");
  let peak = 0;
  let power = 0;
  let since = 0;
  node.port.onmessage = (e: MessageEvent<Float32Array>) => {
    if (frames > mostSeconds * audio.sampleRate) return;
    blocks.push(e.data);
    frames += e.data.length;
    for (const v of e.data) {
      const a = Math.abs(v);
      if (a > peak) peak = a;
      if (a >= 0.999) clipped++;
      power += v * v;
    }
    since += e.data.length;
    if (since < audio.sampleRate / 10) return;
    tell({ seconds: frames / audio.sampleRate, rate: audio.sampleRate, peak, level: Math.sqrt(power / since), clipped: clipped > 0 });
    peak = power = since = 0;
  };
  const source = audio.createMediaStreamSource(stream);
  source.connect(node);
  const drop = () => {
    node.port.onmessage = null;
    source.disconnect();
    stream.getTracks().forEach((t) => t.stop());
    void audio.close();
  };
  const track = stream.getAudioTracks()[0];
  return {
    drop,
    stop: () => {
      const set = track?.getSettings();
      const on = [
        set?.echoCancellation && "echo canceling",
        set?.noiseSuppression && "noise filter",
        set?.autoGainControl && "gain control",
      ].filter(Boolean);
      const rate = audio.sampleRate;
      drop();
      return Promise.resolve({
        body: wave(blocks, rate),
        file: `sound-${stamp()}.wav`,
        seconds: frames / rate,
        made: `Made here with ${track?.label || "the microphone"}, ${rate} samples a second. ${on.length ? `The browser left on: ${on.join(", ")}. Levels cannot be compared.` : "Filters for voices were off."}`,
      });
    },
  };
}

interface Permission {
  requestPermission?: () => Promise<"granted" | "denied">;
}

/** Records shaking along three axes, each sample with the time that the device gave it. */
export async function recordShaking(tell: (r: Running) => void): Promise<Recorder> {
  if (typeof DeviceMotionEvent === "undefined") throw new Error("This device has no motion sensor that the browser gives.");
  const asked = await (DeviceMotionEvent as unknown as Permission).requestPermission?.();
  if (asked === "denied") throw new Error("The motion sensor was not allowed. Allow it in the browser's settings for this page.");
  const rows: string[] = ["Time (s),X (m/s²),Y (m/s²),Z (m/s²)"];
  let first: number | undefined;
  let last = 0;
  let count = 0;
  let peak = 0;
  let clipped = false;
  let told = 0;
  const take = (e: DeviceMotionEvent) => {
    const a = e.accelerationIncludingGravity;
    if (a?.x == null || a.y == null || a.z == null) return;
    first ??= e.timeStamp;
    const at = (e.timeStamp - first) / 1000;
    if (count > 0 && at <= last) return;
    if (at > mostSeconds) return;
    last = at;
    count++;
    rows.push(`${at.toFixed(5)},${a.x.toFixed(5)},${a.y.toFixed(5)},${a.z.toFixed(5)}`);
    const size = Math.abs(Math.hypot(a.x, a.y, a.z) - 9.81);
    peak = Math.max(peak * 0.97, size);
    clipped ||= Math.max(Math.abs(a.x), Math.abs(a.y), Math.abs(a.z)) > 38; // most sensors end at four times gravity
    if (at - told > 0.1) {
      told = at;
      tell({ seconds: at, rate: count / Math.max(at, 1e-3), peak, level: size, clipped });
    }
  };
  window.addEventListener("devicemotion", take);
  const drop = () => window.removeEventListener("devicemotion", take);
  return {
    drop,
    stop: () => {
      drop();
      if (count < 32)
        return Promise.reject(new Error(`The motion sensor gave ${count} samples. Try another device, or bring in a logger's file.`));
      return Promise.resolve({
        body: new Blob([rows.join("\n"), "\n"]),
        file: `shaking-${stamp()}.csv`,
        seconds: last,
        made: `Made here with the motion sensor, ${(count / Math.max(last, 1e-3)).toFixed(0)} samples a second, gravity in it.`,
      });
    },
  };
}

const stamp = () => new Date().toISOString().slice(0, 16).replace(/[:T]/g, "-");
