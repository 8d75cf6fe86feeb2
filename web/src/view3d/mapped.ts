import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DataTexture,
  LinearFilter,
  Mesh,
  MeshStandardMaterial,
  NearestFilter,
  RGBAFormat,
  SRGBColorSpace,
  UnsignedByteType,
} from "three";
import type { Paint, SurfaceMap } from "./map";
import type { Piece } from "./mesh";

/** The part's surface painted with a map: one scale, beyond the limit hatched, the limit's line drawn. */
export function mapped(piece: Piece, map: SurfaceMap, paint: Paint, token: (name: string) => string): Mesh {
  const pieces = map.of.length;
  const positions = new Float32Array(9 * pieces);
  const normals = new Float32Array(9 * pieces);
  const values = new Float32Array(3 * pieces);
  const caught = new Float32Array(3 * pieces);
  let next = 0;
  const corner: Float32Array[] = [];
  for (let p = 0; p < pieces; p++) {
    const t = map.of[p];
    for (let k = 0; k < 3; k++) {
      const c = piece.triangles[3 * t + k];
      corner[k] = piece.positions.subarray(3 * c, 3 * c + 3);
      if (!map.divided[p]) {
        positions.set(corner[k], 9 * p + 3 * k);
        normals.set(piece.normals.subarray(3 * c, 3 * c + 3), 9 * p + 3 * k);
      }
    }
    if (map.divided[p]) {
      for (let k = 0; k < 3; k++) {
        const at = map.corners.subarray(9 * next + 3 * k, 9 * next + 3 * k + 3);
        positions.set(at, 9 * p + 3 * k);
        const [u, v, w] = shares(at, corner);
        for (let i = 0; i < 3; i++) {
          const n = (j: number) => piece.normals[3 * piece.triangles[3 * t + j] + i];
          normals[9 * p + 3 * k + i] = u * n(0) + v * n(1) + w * n(2);
        }
      }
      next++;
    }
    values.set(paint.corners(p), 3 * p);
    if (paint.caught(p)) caught.fill(1, 3 * p, 3 * p + 3);
  }
  const asked = new Float32Array(3 * pieces).fill(paint.limit ?? -1e9);
  return new Mesh(surface({ positions, normals, values, asked, caught }), material(paint, token));
}

/** What is painted, corner by corner; `asked` is the limit, `caught` 1 where it fails whatever its value. */
export interface Corners {
  positions: Float32Array;
  normals: Float32Array;
  values: Float32Array;
  asked: Float32Array;
  caught: Float32Array;
}

export function surface({ positions, normals, values, asked, caught }: Corners): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(normals, 3));
  geometry.setAttribute("mapped", new BufferAttribute(values, 1));
  geometry.setAttribute("asked", new BufferAttribute(asked, 1));
  geometry.setAttribute("caught", new BufferAttribute(caught, 1));
  return geometry;
}

/** Shares of a triangle's corners at a place of it. */
function shares(p: Float32Array, [a, b, c]: Float32Array[]): [number, number, number] {
  const minus = (x: Float32Array, y: Float32Array) => [x[0] - y[0], x[1] - y[1], x[2] - y[2]];
  const dot = (x: number[], y: number[]) => x[0] * y[0] + x[1] * y[1] + x[2] * y[2];
  const [u, v, w] = [minus(b, a), minus(c, a), minus(p, a)];
  const [uu, uv, vv, wu, wv] = [dot(u, u), dot(u, v), dot(v, v), dot(w, u), dot(w, v)];
  const whole = uu * vv - uv * uv || 1;
  const second = (vv * wu - uv * wv) / whole;
  const third = (uu * wv - uv * wu) / whole;
  return [1 - second - third, second, third];
}

export function material(
  paint: Pick<Paint, "top" | "kinds" | "most"> & { error?: number },
  token: (name: string) => string,
): MeshStandardMaterial {
  const made = new MeshStandardMaterial({
    roughness: 0.75,
    metalness: 0,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  });
  const ramp = texture(
    paint.kinds ? paint.kinds.map(token) : scale(token("--scale-little"), token("--scale-much"), 128),
    !paint.kinds,
  );
  const uniforms = {
    ramp: { value: ramp },
    top: { value: paint.kinds ? paint.kinds.length : paint.top },
    most: { value: !!paint.most },
    slack: { value: (paint.error ?? 0) + 1e-4 },
    fail: { value: new Color(token("--fail")) },
    ink: { value: new Color(token("--ink")) },
    bare: { value: new Color(token("--part")) },
  };
  const shift = paint.kinds ? "+ 0.5" : "";
  made.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    shader.vertexShader =
      `attribute float mapped; attribute float asked; attribute float caught; varying float vMapped; varying float vAsked; varying float vCaught;\n${shader.vertexShader}`.replace(
        "#include <begin_vertex>",
        "#include <begin_vertex>\n vMapped = mapped; vAsked = asked; vCaught = caught;",
      );
    shader.fragmentShader =
      `varying float vMapped; varying float vAsked; varying float vCaught; uniform sampler2D ramp; uniform float top; uniform float slack; uniform bool most; uniform vec3 fail; uniform vec3 ink; uniform vec3 bare;\n${shader.fragmentShader}`.replace(
        "#include <color_fragment>",
        `#include <color_fragment>
        bool told = vMapped == vMapped;
        float amount = most ? abs(vMapped) : vMapped;
        bool beyond = told && (most ? amount > vAsked + slack : amount < vAsked - slack);
        vec3 tone = told ? texture2D(ramp, vec2(clamp((amount ${shift}) / top, 0.0, 1.0), 0.5)).rgb : bare;
        float stripe = fract((gl_FragCoord.x + gl_FragCoord.y) / 9.0);
        if (vCaught > 0.5) tone = stripe < 0.62 ? fail : bare;
        else if (beyond && stripe < 0.3) tone = fail;
        float wide = fwidth(vMapped);
        if (told && wide > 1e-6 && vCaught < 0.5 && abs(amount - vAsked) < 0.8 * wide) tone = ink;
        diffuseColor.rgb = tone;`,
      );
  };
  made.addEventListener("dispose", () => ramp.dispose());
  return made;
}

function texture(colours: string[], smooth: boolean): DataTexture {
  const bytes = new Uint8Array(colours.flatMap((c) => [...bytesOf(c), 255]));
  const made = new DataTexture(bytes, colours.length, 1, RGBAFormat, UnsignedByteType);
  made.colorSpace = SRGBColorSpace;
  made.magFilter = made.minFilter = smooth ? LinearFilter : NearestFilter;
  made.needsUpdate = true;
  return made;
}

function bytesOf(colour: string): number[] {
  const hex = new Color(colour).getHex(SRGBColorSpace);
  return [(hex >> 16) & 255, (hex >> 8) & 255, hex & 255];
}

/** Steps between two colours that look even: through OKLab (Ottosson 2020). */
export function scale(from: string, to: string, steps: number): string[] {
  const [a, b] = [from, to].map((c) => oklab(new Color(c)));
  return Array.from({ length: steps }, (_, k) => {
    const t = k / (steps - 1);
    return `#${unlab(a.map((v, i) => v + (b[i] - v) * t)).getHexString(SRGBColorSpace)}`;
  });
}

function oklab({ r, g, b }: Color): number[] {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

function unlab([lightness, a, b]: number[]): Color {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return new Color(
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  );
}
