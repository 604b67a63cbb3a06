/** Measures how loud each of its inputs is, in pieces of 20 ms: the mean square in dB of full scale, of all its channels. */
class Bands extends AudioWorkletProcessor {
  private readonly length = Math.round(sampleRate / 50);
  private sums: number[] = [];
  /** Samples in the sums. */
  private summed = 0;
  /** Samples since a piece was due: the blocks of the audio thread end beside its end. */
  private due = 0;

  process(inputs: Float32Array[][]): boolean {
    inputs.forEach((channels, n) => {
      let sum = 0;
      for (const channel of channels) for (const x of channel) sum += x * x;
      this.sums[n] = (this.sums[n] ?? 0) + sum / Math.max(1, channels.length);
    });
    const block = inputs[0]?.[0]?.length ?? 128;
    this.summed += block;
    this.due += block;
    if (this.due >= this.length) {
      this.port.postMessage(this.sums.map((sum) => Math.max(-120, 10 * Math.log10(sum / this.summed + 1e-12))));
      [this.sums, this.summed] = [[], 0];
      this.due -= this.length;
    }
    return true;
  }
}
registerProcessor('bands', Bands);
