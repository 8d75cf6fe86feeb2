import { CanvasTexture, RepeatWrapping, SRGBColorSpace } from "three";
import { token } from "./tokens";

/** One tile of hatching. */
export function hatching(): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 64;
  const context = canvas.getContext("2d");
  if (context) {
    context.fillStyle = token("--sand");
    context.fillRect(0, 0, 64, 64);
    context.strokeStyle = token("--rim-soft");
    context.lineWidth = 4;
    for (const from of [-64, -32, 0, 32, 64]) {
      context.beginPath();
      context.moveTo(from, 64);
      context.lineTo(from + 64, 0);
      context.stroke();
    }
  }
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  texture.wrapS = texture.wrapT = RepeatWrapping;
  return texture;
}

/** A disc that fades to its edge: the shadow on the table. */
export function softDisc(): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 128;
  const context = canvas.getContext("2d");
  if (context) {
    const tone = token("--rim-soft");
    const fade = context.createRadialGradient(64, 64, 10, 64, 64, 64);
    fade.addColorStop(0, tone);
    fade.addColorStop(1, `${tone}00`);
    context.fillStyle = fade;
    context.fillRect(0, 0, 128, 128);
  }
  return new CanvasTexture(canvas);
}
