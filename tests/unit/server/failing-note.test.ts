import { describe, expect, it } from 'vitest';
import { FailingNote } from '@/server/desk/failing-note';

describe('the note on whether the desk stays up', () => {
  it('is written when that changes, first of all too, and again where it could not be', async () => {
    const desk = { isFailing: false };
    const written: boolean[] = [];
    let full = false;
    const note = new FailingNote(desk, async (failing) => {
      if (full) throw new Error('the disk is full');
      written.push(failing);
    });
    // What an earlier front door noted may hold no more.
    await note.tick();
    await note.tick();
    expect(written).toEqual([false]);
    desk.isFailing = true;
    full = true;
    await note.tick();
    expect(written).toEqual([false]);
    full = false;
    await note.tick();
    await note.tick();
    expect(written).toEqual([false, true]);
    desk.isFailing = false;
    await note.tick();
    expect(written).toEqual([false, true, false]);
  });

  it('is not written twice while it is being written', async () => {
    let done: () => void = () => undefined;
    let asked = 0;
    const note = new FailingNote({ isFailing: true }, () => {
      asked += 1;
      return new Promise((resolve) => (done = resolve));
    });
    const first = note.tick();
    await note.tick();
    expect(asked).toBe(1);
    done();
    await first;
    await note.tick();
    expect(asked).toBe(1);
  });
});
