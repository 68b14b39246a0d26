/** How this screen says that hands are due: in its title always, by sound and by the browser where it was asked to. */
export interface AlertSettings {
  sound: boolean;
  browser: boolean;
  /** Everything that is due in the shop; or what the day plan gives to whoever signs here, and promises in danger. */
  tells: 'all' | 'mine';
}

/** Two soft tones, made here: no file to load, nothing to go missing. */
export function ring(): void {
  const audio = new AudioContext();
  [660, 880].forEach((hertz, i) => {
    const at = audio.currentTime + i * 0.22;
    const tone = new OscillatorNode(audio, { frequency: hertz, type: 'sine' });
    const volume = new GainNode(audio, { gain: 0 });
    volume.gain.setValueAtTime(0, at);
    volume.gain.linearRampToValueAtTime(0.22, at + 0.03);
    volume.gain.exponentialRampToValueAtTime(0.001, at + 0.35);
    tone.connect(volume).connect(audio.destination);
    tone.start(at);
    tone.stop(at + 0.4);
    if (i === 1) tone.onended = () => void audio.close();
  });
}
