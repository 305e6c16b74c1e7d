/** Hands on what the microphone gives, block by block, as it came. */
class Samples extends AudioWorkletProcessor {
  process(inputs) {
    const channel = inputs[0]?.[0];
    if (channel) this.port.postMessage(channel.slice());
    return true;
  }
}
registerProcessor("samples", Samples);
