// A picture that follows what is asked of it, for the stage, what lies over it, and the prep page.

// One job is on its way at a time; of those that would wait only the newest is done. `work(job, signal)` does one. A job
// that `yields` is given up as soon as another is wanted.
export class NewestWins {
  constructor(work) {
    Object.assign(this, { work, wanted: null, running: null, abort: null });
  }

  want(job) {
    this.wanted = job;
    if (this.running?.yields) this.abort.abort();
    return this.go();
  }

  // A newer one waits: what is being done now is no longer the last word.
  get overtaken() {
    return this.wanted !== null;
  }

  async go() {
    if (this.running) return;
    while (this.wanted) {
      this.running = this.wanted;
      this.wanted = null;
      this.abort = new AbortController();
      try {
        await this.work(this.running, this.abort.signal);
      } finally {
        this.running = null;
      }
    }
  }
}

// An image in a canvas of its size.
export function fill(canvas, image) {
  Object.assign(canvas, { width: image.width, height: image.height });
  canvas.getContext("2d").drawImage(image, 0, 0);
}

// An image whose address is in its data, once it is there or refused.
export function drawn(image) {
  return new Promise((done) => {
    for (const end of ["load", "error"]) image.addEventListener(end, done, { once: true });
    image.src = image.dataset.src;
  });
}
