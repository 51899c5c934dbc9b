import type { Tone } from '@/core/messages/tone';

/** Two notes, in Hz: falling for trouble, rising where it is over. */
const NOTES: Record<Tone, readonly [number, number]> = {
  bad: [587, 440],
  hand: [523, 523],
  fine: [440, 587],
  note: [494, 494],
};
const NOTE_SECONDS = 0.22;
const LOUDNESS = 0.15;

/** Plays two quiet notes. Browsers keep still until somebody has clicked in the window; that is no error. */
export function playNotes(tone: Tone): void {
  if (typeof AudioContext === 'undefined') return;
  const context = new AudioContext();
  if (context.state === 'suspended') {
    void context.close();
    return;
  }
  NOTES[tone].forEach((pitch, i) => {
    const [sound, volume] = [context.createOscillator(), context.createGain()];
    const begins = context.currentTime + i * NOTE_SECONDS;
    sound.frequency.value = pitch;
    volume.gain.setValueAtTime(LOUDNESS, begins);
    volume.gain.exponentialRampToValueAtTime(0.001, begins + NOTE_SECONDS);
    sound.connect(volume).connect(context.destination);
    sound.start(begins);
    sound.stop(begins + NOTE_SECONDS);
    if (i === 1) sound.onended = () => void context.close();
  });
}
