/** Recordings that the tests make: a shaft that speeds up, a tone that follows it, some noise; all of it from a seed. */
export const van = {
  cylinders: 4,
  axle: 3.7,
  pinion: 10,
  circumference: 2.1,
  joint: "cross",
  pieces: 2,
};

/** The output shaft's turns a second at a road speed. */
export const shaft = (kmh: number) => (kmh / 3.6 / van.circumference) * van.axle;

/** Numbers between −1 and 1, the same for a seed every time. */
function noise(seed: number): () => number {
  let s = seed;
  return () => {
    s = (Math.imul(s, 1664525) + 1013904223) >>> 0;
    return s / 0x80000000 - 1;
  };
}

/** A drive from 48 to 110 km/h in a minute: a line of so many a turn in noise, 500 times a second. */
export function drive(order: number): { at: number[]; x: number[]; kmh: number[] } {
  const random = noise(7);
  const at: number[] = [];
  const x: number[] = [];
  const kmh: number[] = [];
  let turns = 0;
  for (let i = 0; i < 30_000; i++) {
    const t = i / 500;
    const speed = (48 + (62 * t) / 60) * (1 + 0.02 * Math.sin(0.5 * t));
    at.push(t);
    kmh.push(speed);
    x.push(0.6 * Math.cos(2 * Math.PI * order * turns) + random() + random());
    turns += shaft(speed) / 500;
  }
  return { at, x, kmh };
}

/** The same as a logger writes it. */
export function table(order: number): string {
  const d = drive(order);
  const rows = d.at.map((t, i) => `${t.toFixed(3)},${d.x[i]!.toFixed(4)},${i % 50 ? "" : d.kmh[i]!.toFixed(0)}`);
  return `Time (s),Seat rail (m/s²),Vehicle speed (km/h)\n${rows.join("\n")}\n`;
}

/** A WAV of 16-bit samples. */
export function wave(samples: number[], rate: number): Buffer {
  const b = Buffer.alloc(44 + 2 * samples.length);
  b.write("RIFF", 0);
  b.writeUInt32LE(36 + 2 * samples.length, 4);
  b.write("WAVEfmt ", 8);
  b.writeUInt32LE(16, 16);
  b.writeUInt16LE(1, 20);
  b.writeUInt16LE(1, 22);
  b.writeUInt32LE(rate, 24);
  b.writeUInt32LE(2 * rate, 28);
  b.writeUInt16LE(2, 32);
  b.writeUInt16LE(16, 34);
  b.write("data", 36);
  b.writeUInt32LE(2 * samples.length, 40);
  samples.forEach((v, i) => b.writeInt16LE(Math.round(32767 * Math.max(-1, Math.min(1, v))), 44 + 2 * i));
  return b;
}
