/** Programs that only start another. */
const STARTERS = new Set(
  'sudo nice ionice nohup env exec command time chronic setsid bash sh dash zsh ksh python python3 perl php node ruby if then else elif do while until ! { ( eval'.split(
    ' ',
  ),
);
/** Those that are followed by something of their own before the program. */
const WITH_ONE = new Set(['timeout', 'flock', 'su', 'runuser']);
/** What only prepares, asks or waits: the job is what comes behind it. */
const PREPARES = new Set(
  'cd test [ [[ export source . set umask ulimit sleep true false : echo printf trap exit return fi done esac }'.split(
    ' ',
  ),
);

/** What stands behind so much of a command names no job. */
const MOST_READ = 4000;

function base(path: string): string {
  return (
    path
      .replace(/^["'({]+|["')};]+$/g, '')
      .split('/')
      .at(-1) ?? path
  );
}

/** What a line that was wrapped by us runs. */
function unwrapped(command: string): string {
  const wrapped = /\bset -- (.*?); \[ -x \S+ \] && exec /.exec(command)?.[1] ?? command;
  return /^"\$SHELL" -c '(.*)'$/s.exec(wrapped)?.[1]?.replaceAll(`'\\''`, "'") ?? wrapped;
}

/** The words of one piece of a command from the program on. */
function programWords(piece: string): string[] {
  const words = piece.trim().split(/\s+/);
  let i = 0;
  while (i < words.length - 1) {
    const word = words[i]!;
    if (word === 'command' && /^-[vV]$/.test(words[i + 1]!)) return ['test'];
    if (
      /^[A-Za-z_]\w*=/.test(word) ||
      word.startsWith('-') ||
      /^\d/.test(word) ||
      STARTERS.has(base(word)) ||
      word === '('
    )
      i += 1;
    else if (WITH_ONE.has(base(word))) {
      do i += 1;
      while (words[i]?.startsWith('-'));
      i += 1;
    } else break;
  }
  return words.slice(Math.min(i, words.length - 1));
}

/** A name for a job from its command: its first telling word, without what only starts, asks or prepares. */
export function jobName(command: string): string {
  const pieces = unwrapped(command.slice(0, MOST_READ))
    .split(/&&|;|\|\||\|/)
    .map((piece) => piece.trim())
    .filter((piece) => piece !== '' && !piece.startsWith('#'));
  const programs = pieces.map((piece) => base(programWords(piece)[0] ?? '').replace(/\.\w{1,4}$/, ''));
  const telling = programs.find(
    (program) => /[A-Za-z]/.test(program) && !PREPARES.has(program) && !STARTERS.has(program),
  );
  const spaced = (telling ?? '').replaceAll(/[^\p{L}\p{N}]+/gu, ' ').trim();
  return spaced === '' ? 'Job' : spaced.charAt(0).toUpperCase() + spaced.slice(1);
}
