// Shutter times as people type them: "1/125", "0.8 s", 2", "1m30".

/** Times on the dials of cameras, in thirds of a stop. */
const SLOWEST_FRACTION_S = 0.3;

/**
 * Reads a shutter time.
 * @returns seconds; null for what is no time
 */
export function parseShutter(text: string): number | null {
  const plain = text.trim().replace(',', '.').toLowerCase();
  const fraction = /^(\d+)\s*\/\s*(\d+(?:\.\d+)?)\s*(?:s|sec)?$/.exec(plain);
  if (fraction) return positive(Number(fraction[1]) / Number(fraction[2]));
  const minutes = /^(\d+)\s*(?:m|min|')\s*(?:(\d+(?:\.\d+)?)\s*(?:s|sec|")?)?$/.exec(plain);
  if (minutes) return positive(Number(minutes[1]) * 60 + Number(minutes[2] ?? 0));
  const seconds = /^(\d+(?:\.\d+)?|\.\d+)\s*(?:s|sec|"|″|”)?$/.exec(plain);
  return seconds ? positive(Number(seconds[1])) : null;
}

/** 1/125 s below a third of a second, seconds above: as it stands on a camera. */
export function formatShutter(seconds: number): string {
  if (!Number.isFinite(seconds)) return 'any';
  if (seconds < SLOWEST_FRACTION_S) return `1/${Number((1 / seconds).toPrecision(seconds < 1 / 100 ? 3 : 2))} s`;
  return seconds < 60 ? `${Number(seconds.toPrecision(2))} s` : formatDuration(seconds);
}

/** How long something takes, for people: "45 s", "3 min 20 s", "1 h 5 min". */
export function formatDuration(seconds: number): string {
  const s = Math.round(seconds);
  if (s < 100) return `${seconds < 10 ? Number(seconds.toPrecision(2)) : s} s`;
  if (s < 3600) return s % 60 === 0 ? `${s / 60} min` : `${Math.floor(s / 60)} min ${s % 60} s`;
  return `${Math.floor(s / 3600)} h ${Math.round((s % 3600) / 60)} min`;
}

function positive(value: number): number | null {
  return Number.isFinite(value) && value > 0 ? value : null;
}
