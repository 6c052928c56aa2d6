/** Round places for the marks of an axis, about as many as asked for. */
export function niceTicks(low: number, high: number, about: number): number[] {
  if (!(high > low)) return [low];
  const rough = (high - low) / about;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5, 10].find((m) => m * power >= rough * (1 - 1e-9)) ?? 10);
  const ticks: number[] = [];
  for (let i = Math.ceil(low / step); i * step <= high + step * 1e-6; i++) {
    ticks.push(Number((i * step).toPrecision(12)));
  }
  return ticks;
}
