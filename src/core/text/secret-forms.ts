/** What stands where a secret was. */
export const BLANK = '•••';

/** Shorter secrets would blank half a page. */
const SHORTEST_SECRET = 4;
/** Of a piece of base64, fewer characters than this tell nothing of the secret and may stand by chance. */
const SHORTEST_BASE64 = 6;

function base64Of(bytes: Uint8Array): string {
  return btoa(String.fromCharCode(...bytes));
}

/** What base64 makes of a secret wherever it begins in what is encoded, without what its neighbours have a say in. */
function base64Forms(secret: string): string[] {
  const bytes = new TextEncoder().encode(secret);
  return [0, 1, 2].flatMap((offset) => {
    const padded = new Uint8Array(offset + bytes.length);
    padded.set(bytes, offset);
    const encoded = base64Of(padded).replace(/=+$/, '');
    const ends = padded.length % 3 === 0 ? encoded.length : encoded.length - 1;
    const piece = encoded.slice([0, 2, 3][offset], ends);
    if (piece.length < SHORTEST_BASE64) return [];
    return [piece, piece.replaceAll('+', '-').replaceAll('/', '_')];
  });
}

const HTML: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** A secret as it may be repeated: as it is, in an address, a form, JSON, HTML, or base64 (RFC 4648). */
export function secretForms(secret: string): string[] {
  if (secret.length < SHORTEST_SECRET || secret.length > 20_000) return [];
  // Half a surrogate pair cannot be encoded.
  const percent = encodeURIComponent(secret.replace(/\p{Cs}/gu, '\ufffd'));
  const json = JSON.stringify(secret).slice(1, -1);
  const ascii = json.replace(
    /[\u0080-\uffff]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
  const forms = [
    secret,
    percent,
    percent.replaceAll('%20', '+'),
    percent.replace(/%[0-9A-F]{2}/g, (hex) => hex.toLowerCase()),
    json,
    ascii,
    json.replaceAll('/', '\\/'),
    secret.replace(/[&<>"']/g, (c) => HTML[c]!),
    ...base64Forms(secret),
  ];
  return [...new Set(forms)];
}

/** Takes secrets out of texts, whatever form they come in. */
export class Blanker {
  private readonly forms: string[];

  constructor(secrets: readonly string[]) {
    // The longest first: a part of a secret that is one too must not spoil the whole.
    this.forms = [...new Set(secrets.flatMap(secretForms))].sort((a, b) => b.length - a.length);
  }

  get isIdle(): boolean {
    return this.forms.length === 0;
  }

  text(text: string): string {
    return this.forms.reduce((blanked, form) => blanked.replaceAll(form, BLANK), text);
  }

  /** Every text within a value of lists and objects; those under `except` stay as they are. */
  deep<T>(value: T, except: readonly string[] = []): T {
    if (typeof value === 'string') return this.text(value) as T;
    if (value === null || typeof value !== 'object') return value;
    if (Array.isArray(value)) return value.map((item) => this.deep(item as unknown, except)) as T;
    const entries = Object.entries(value).map(([name, item]) => [
      name,
      except.includes(name) ? (item as unknown) : this.deep(item as unknown, except),
    ]);
    return Object.fromEntries(entries) as T;
  }
}
