/** Drawing is slow beyond this: two frames. */
const SLOW_MS = 34;

/** How long drawings take. */
export class Pace {
  /** The last one, ms. */
  #took = 0;

  get slow(): boolean {
    return this.#took >= SLOW_MS;
  }

  /** Times a drawing until it is on the screen: what draws in software goes on long after it was told to. */
  time(gl: WebGL2RenderingContext, start: number) {
    const done = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    if (!done) return;
    gl.flush();
    const look = () => {
      if (gl.clientWaitSync(done, 0, 0) === gl.TIMEOUT_EXPIRED) {
        requestAnimationFrame(look);
        return;
      }
      gl.deleteSync(done);
      this.#took = performance.now() - start;
    };
    requestAnimationFrame(look);
  }
}
