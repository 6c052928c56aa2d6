import type { Frame } from "./frame";
import { inksOf } from "./theme";

/** Canvas and drawing together as a picture. */
export function paintDensity(
  host: HTMLElement,
  picture: HTMLCanvasElement,
  drawn: SVGSVGElement,
  frame: Frame,
): string {
  const made = document.createElement("canvas");
  const { clientWidth, clientHeight } = host;
  made.width = 2 * clientWidth;
  made.height = 2 * clientHeight;
  const context = made.getContext("2d");
  if (!context) return "";
  context.scale(2, 2);
  context.fillStyle = inksOf(host).card;
  context.fillRect(0, 0, clientWidth, clientHeight);
  context.imageSmoothingEnabled = false;
  context.drawImage(picture, frame.left, frame.top, frame.width, frame.height);
  for (const text of drawn.querySelectorAll("text, path, ellipse, circle, polygon")) {
    paintNode(context, text as SVGGraphicsElement, drawn);
  }
  return made.toDataURL("image/png");
}

/** One node of the drawing: lines as paths, words as text. */
function paintNode(
  context: CanvasRenderingContext2D,
  node: SVGGraphicsElement,
  root: SVGSVGElement,
): void {
  const style = getComputedStyle(node);
  const matrix = node.getScreenCTM();
  const origin = root.getBoundingClientRect();
  if (!matrix) return;
  context.save();
  context.transform(
    matrix.a, matrix.b, matrix.c, matrix.d, matrix.e - origin.left, matrix.f - origin.top,
  ); // prettier-ignore
  context.fillStyle = style.fill;
  context.strokeStyle = style.stroke;
  context.lineWidth = parseFloat(style.strokeWidth);
  if (node instanceof SVGTextElement) {
    context.font = `${style.fontSize} ${style.fontFamily}`;
    context.textAlign = style.textAnchor === "middle" ? "center" : (style.textAnchor as "end");
    context.fillText(
      node.textContent,
      Number(node.getAttribute("x")),
      Number(node.getAttribute("y")),
    );
  } else {
    const path = new Path2D(outlineOf(node));
    if (style.fill !== "none") context.fill(path);
    if (style.stroke !== "none") context.stroke(path);
  }
  context.restore();
}

function outlineOf(node: SVGGraphicsElement): string {
  const number = (name: string) => Number(node.getAttribute(name));
  if (node instanceof SVGPathElement) return node.getAttribute("d") ?? "";
  if (node instanceof SVGPolygonElement) return `M${node.getAttribute("points") ?? ""}Z`;
  const [rx, ry] =
    node instanceof SVGCircleElement ? [number("r"), number("r")] : [number("rx"), number("ry")];
  const [cx, cy] = [number("cx"), number("cy")];
  return `M${cx - rx} ${cy}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0`;
}
