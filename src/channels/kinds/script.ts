import { spawn } from 'node:child_process';
import { constants } from 'node:fs';
import { access, realpath } from 'node:fs/promises';
import { isAbsolute, join, sep } from 'node:path';
import { string } from 'yup';
import { cutTo, oneLine } from '@/core/messages/safe-text';
import { toneOf } from '@/core/messages/tone';
import * as f from '@/core/settings/fields';
import { limitTime } from '@/outside/limit';
import { cloudEventOf } from '@/channels/frame/cloud-event';
import { needed, settingsOf } from '@/channels/frame/fields';
import { NO_HOUSE } from '@/channels/frame/house';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';

export interface ScriptSettings {
  script: string;
  argument: string;
}

const LIMIT_MS = 30_000;
const MOST_OUTPUT_BYTES = 16_000;
const MOST_ANSWER = 300;
/** A script may hold so much memory (RLIMIT_AS of setrlimit(2), set by prlimit(1)). */
const MOST_MEMORY_BYTES = 1_073_741_824;

/** Facts as a script finds them in its environment; the whole of it comes on its standard input. */
function factsOf({ title, lines, link, event, watch, at, id, drill }: Outgoing): Record<string, string> {
  const facts = {
    LANTERN_ID: id,
    LANTERN_HAPPENING: event?.kind ?? 'message',
    LANTERN_TONE: toneOf(event),
    LANTERN_TITLE: title,
    LANTERN_TEXT: lines.join('\n'),
    LANTERN_LINK: link,
    LANTERN_AT: new Date(at).toISOString(),
    LANTERN_DRILL: drill ? '1' : '',
    LANTERN_WATCH: watch?.name ?? '',
    LANTERN_WATCH_ID: String(watch?.id ?? ''),
  };
  // A zero byte would end the environment.
  return Object.fromEntries(
    Object.entries(facts).map(([name, value]) => [name, value.replaceAll('\0', ' ')]),
  );
}

/** Where a script lies; throws an error with a sentence where it may not be run. */
async function placeOf(name: string, folder: string | null): Promise<string> {
  if (folder === null) {
    throw new Error('No scripts are run here: LANTERN_SCRIPTS does not name a folder to run them from.');
  }
  const inside = await realpath(folder).catch(() => {
    throw new Error('The folder that LANTERN_SCRIPTS names is not there.');
  });
  const place = await realpath(join(inside, name)).catch(() => {
    throw new Error(`There is no script called “${name}” in the folder of scripts.`);
  });
  // A link may lead anywhere: what counts is where it ends.
  if (!place.startsWith(inside + sep)) throw new Error(`“${name}” does not lie in the folder of scripts.`);
  await access(place, constants.X_OK).catch(() => {
    throw new Error(`“${name}” may not be run: it is not marked as a program.`);
  });
  return place;
}

interface Ended {
  code: number | null;
  output: string;
  why: 'ended' | 'time' | 'away';
}

/** Runs a program by itself, never through a shell; it and what it started are ended when the time is up. */
function run(place: string, argument: string, message: Outgoing, signal: AbortSignal): Promise<Ended> {
  const limit = limitTime(LIMIT_MS, signal);
  return new Promise<Ended>((resolve) => {
    // A group of its own, so that what it starts goes with it; memory is bounded before it begins.
    const child = spawn(
      'prlimit',
      [`--as=${MOST_MEMORY_BYTES}`, place, ...(argument === '' ? [] : [argument])],
      {
        env: {
          PATH: '/usr/local/bin:/usr/bin:/bin',
          LANG: 'C.UTF-8',
          ...factsOf(message),
        } as unknown as NodeJS.ProcessEnv,
        cwd: '/',
        detached: true,
        stdio: ['pipe', 'pipe', 'pipe'],
      },
    );
    const chunks: Buffer[] = [];
    let bytes = 0;
    const take = (chunk: Buffer) => {
      if (bytes < MOST_OUTPUT_BYTES) chunks.push(chunk.subarray(0, MOST_OUTPUT_BYTES - bytes));
      bytes += chunk.length;
    };
    const end = (why: Ended['why'], code: number | null) => {
      limit.release();
      resolve({ why, code, output: Buffer.concat(chunks).toString('utf8') });
    };
    const kill = () => {
      try {
        if (child.pid) process.kill(-child.pid, 'SIGKILL');
      } catch {
        // It has ended by itself.
      }
      end('time', null);
    };
    if (limit.signal.aborted) kill();
    limit.signal.addEventListener('abort', kill, { once: true });
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.once('error', () => end('away', null));
    child.once('close', (code) => end('ended', code));
    // One that does not read is not waited for.
    child.stdin.on('error', () => undefined);
    child.stdin.end(JSON.stringify(cloudEventOf(message)));
  });
}

export const script: ChannelKind<ScriptSettings> = {
  id: 'script',
  title: 'script on this machine',
  help: 'Runs a program of a folder that whoever runs this server allowed (LANTERN_SCRIPTS), with what happened.',
  schema: settingsOf<ScriptSettings>({
    script: needed('the name of a script', 100)
      .test(
        'name',
        'Expected the name of a file in the folder of scripts, without a path.',
        (value) => !value || (!isAbsolute(value) && !/[/\\\0]|^\.\.?$/.test(value)),
      )
      .meta({ description: 'The name of a file in the folder of scripts.' }),
    argument: string().default('').max(500).meta({ description: 'One argument it is given, as it is.' }),
  }),
  fields: [
    f.text(
      'script',
      'Script',
      'A file of that folder. What happened stands in its environment, and as JSON on its input.',
      {
        placeholder: 'sound-the-horn',
      },
    ),
    f.text('argument', 'Argument', 'Given to it as it is; no shell reads it.'),
  ],
  shown: ({ script: name }) => name,
  send: async ({ script: name, argument }, message, signal, { scripts } = NO_HOUSE): Promise<Answer> => {
    let place: string;
    try {
      place = await placeOf(name, scripts);
    } catch (error) {
      return { ok: false, retry: false, said: (error as Error).message };
    }
    const { why, code, output } = await run(place, argument, message, signal);
    const said = cutTo(oneLine(output), MOST_ANSWER);
    const with_ = said === '' ? '' : `: ${said}`;
    if (why === 'time')
      return { ok: false, retry: true, said: `It was ended after ${LIMIT_MS / 1000} s${with_}` };
    if (why === 'away')
      return { ok: false, retry: false, said: 'It could not be begun: prlimit of util-linux is not there.' };
    return { ok: code === 0, retry: code === 75, said: `It ended with ${code ?? 'a signal'}${with_}` };
  },
};
