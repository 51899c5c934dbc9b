const BLANK = '•••';

/**
 * What gives a secret away in text: a telling name before it, or its own shape. They run over whatever a job sends, in
 * the process that hears all jobs, so none may begin anew at every letter of a long word: that takes the square of its
 * length.
 */
const PATTERNS: readonly [RegExp, string][] = [
  [/-----BEGIN [A-Z ]*PRIVATE KEY-----[\s\S]*?(-----END [A-Z ]*PRIVATE KEY-----|$)/g, BLANK],
  [/\b(authorization\s*:\s*)(?:(basic|bearer|digest)\s+)?\S+/gi, `$1$2 ${BLANK}`],
  [/\b((?:set-)?cookie\s*:\s*).+/gi, `$1${BLANK}`],
  // user:password@host in an address.
  [/([a-z0-9+.-]:\/\/[^\s:@/]+):[^\s@/]+@/gi, `$1:${BLANK}@`],
  [
    /(?<![\w.-])(?=[\w.-]*(?:passw(?:or)?d|passphrase|secret|token|api[_-]?key|access[_-]?key|private[_-]?key))([\w.-]+["']?\s*[=:]\s*)("[^"\n]*"|'[^'\n]*'|[^\s,;&"']+)/gi,
    `$1${BLANK}`,
  ],
  // An option of a command line and its value.
  [/(--?(?:password|passwd|pass|token|secret|api-key)[= ])\S+/gi, `$1${BLANK}`],
];

/** Output of a job with what looks like a secret blanked. */
export function blankSecrets(text: string): string {
  return PATTERNS.reduce((blanked, [pattern, put]) => blanked.replace(pattern, put), text);
}
