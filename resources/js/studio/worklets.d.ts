/** What there is in the scope of an audio worklet. */
declare const sampleRate: number;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, of: new () => AudioWorkletProcessor): void;
