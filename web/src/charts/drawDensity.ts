/** Counts as the ink's darkness, by their logarithm; high y is at the top. */
export function drawDensity(
  canvas: HTMLCanvasElement,
  counts: readonly (readonly number[])[],
  ink: string,
): void {
  const rows = counts.length;
  const columns = counts[0]?.length ?? 0;
  const context = canvas.getContext("2d");
  canvas.width = columns;
  canvas.height = rows;
  if (!context || rows === 0 || columns === 0) return;
  const [red, green, blue] = rgbOf(ink);
  const image = context.createImageData(columns, rows);
  const most = Math.log1p(counts.reduce((m, row) => Math.max(m, ...row), 1));
  for (const [r, row] of counts.entries()) {
    for (const [c, n] of row.entries()) {
      if (n === 0) continue;
      const at = 4 * ((rows - 1 - r) * columns + c);
      const alpha = 30 + 225 * (Math.log1p(n) / most);
      image.data.set([red, green, blue, alpha], at);
    }
  }
  context.putImageData(image, 0, 0);
}

function rgbOf(colour: string): [number, number, number] {
  const hex = /^#([0-9a-f]{6})$/i.exec(colour.trim())?.[1];
  if (!hex) return [40, 50, 60];
  return [0, 2, 4].map((i) => parseInt(hex.slice(i, i + 2), 16)) as [number, number, number];
}
