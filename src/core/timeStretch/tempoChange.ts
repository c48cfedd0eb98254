/** "96", "88.402": as many decimals as say something, three at most. */
const bpm = (value: number) => String(Math.round(value * 1000) / 1000);

/** How much faster something goes that is so much longer: "−18.6 %", with a true minus sign. `ratio`: length of the result by its own. */
export function speedText(ratio: number): string {
  const percent = Math.round((1 / ratio - 1) * 1000) / 10;
  const sign = percent > 0 ? '+' : percent < 0 ? '−' : '±';
  return `${sign}${Math.abs(percent)} %`;
}

/**
 * A change of tempo as it is said everywhere: "118 → 96 BPM (−18.6 %)". `level`: beats of the target for one of its own: at half or double
 * it is the tempo that is felt which changes, "164 → 150 BPM (−8.5 %)" of 82.
 */
export const tempoChangeText = (from: number, to: number, level = 1): string =>
  `${bpm(from * level)} → ${bpm(to)} BPM (${speedText((from * level) / to)})`;
