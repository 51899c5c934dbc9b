import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { findEngineSocket, makeEngineSocket } from '@/engine/link/protocol';

describe('where an engine is spoken to', () => {
  const usual = process.env.TMPDIR;
  let folder: string;
  // What it makes elsewhere it makes in here: nothing else is cleared away afterwards, whatever it says.
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'lantern-test-'));
    process.env.TMPDIR = folder;
  });
  afterEach(() => {
    if (usual === undefined) delete process.env.TMPDIR;
    else process.env.TMPDIR = usual;
    rmSync(folder, { recursive: true, force: true });
  });

  /** A data folder whose path is longer than any socket’s may be. */
  const deep = () => {
    const place = join(folder, 'a'.repeat(60), 'b'.repeat(60));
    mkdirSync(place, { recursive: true });
    return place;
  };

  it('is in the data folder itself, and known before anything is made', () => {
    const data = join(folder, 'not there yet');
    expect(findEngineSocket(data)).toBe(join(data, 'engine.sock'));
    expect(makeEngineSocket(data)).toBe(join(data, 'engine.sock'));
    expect(existsSync(data)).toBe(false);
  });

  it('is in a closed folder nobody can guess where the path is too long, and stays there', () => {
    const data = deep();
    expect(findEngineSocket(data)).toBeNull();
    const socket = makeEngineSocket(data);
    expect(socket).toMatch(/\/calm-lantern-\w{6}\/engine\.sock$/);
    expect(statSync(dirname(socket)).mode & 0o777).toBe(0o700);
    expect(statSync(join(data, 'engine.place')).mode & 0o777).toBe(0o600);
    expect(readFileSync(join(data, 'engine.place'), 'utf8')).toBe(socket);
    expect([findEngineSocket(data), makeEngineSocket(data)]).toEqual([socket, socket]);
  });

  it('is another one where somebody cleared that folder away', () => {
    const data = deep();
    const first = makeEngineSocket(data);
    renameSync(dirname(first), join(folder, 'away'));
    const second = makeEngineSocket(data);
    expect(second).not.toBe(first);
    expect(existsSync(dirname(second))).toBe(true);
    expect(findEngineSocket(data)).toBe(second);
  });
});
