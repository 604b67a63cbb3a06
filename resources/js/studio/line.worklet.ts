/** Hands on what an audio input hears, in pieces of 20 ms, as 16 bits. */
class Line extends AudioWorkletProcessor {
  private piece = new Int16Array(Math.round(sampleRate / 50));
  private filled = 0;

  process(inputs: Float32Array[][]): boolean {
    for (const x of inputs[0]?.[0] ?? []) {
      this.piece[this.filled++] = Math.max(-32768, Math.min(32767, Math.round(x * 32767)));
      if (this.filled === this.piece.length) {
        this.port.postMessage(this.piece.buffer, [this.piece.buffer]);
        this.piece = new Int16Array(Math.round(sampleRate / 50));
        this.filled = 0;
      }
    }
    return true;
  }
}
registerProcessor('line', Line);
