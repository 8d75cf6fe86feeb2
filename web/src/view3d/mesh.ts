/** Reads the server's mesh layout (see `meshes.rs`). */
export interface Piece {
  positions: Float32Array;
  normals: Float32Array;
  /** Two numbers a corner: the mark (−1: the part), and the face, or the colour of a letter
   * (−1: none of its own, −2: the plate that letters stand on). */
  owners: Int32Array;
  triangles: Uint32Array;
  segments: Float32Array;
}

export function read(buffer: ArrayBuffer): Piece {
  const [corners, triangles, segments] = new Uint32Array(buffer, 0, 3);
  let at = 12;
  const take = (words: number) => {
    const from = at;
    at += 4 * words;
    return from;
  };
  return {
    positions: new Float32Array(buffer, take(3 * corners), 3 * corners),
    normals: new Float32Array(buffer, take(3 * corners), 3 * corners),
    owners: new Int32Array(buffer, take(2 * corners), 2 * corners),
    triangles: new Uint32Array(buffer, take(3 * triangles), 3 * triangles),
    segments: new Float32Array(buffer, take(6 * segments), 6 * segments),
  };
}

export async function fetchPiece(url: string): Promise<Piece | undefined> {
  const answer = await fetch(url);
  return answer.ok ? read(await answer.arrayBuffer()) : undefined;
}
