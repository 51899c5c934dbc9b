import { WHOLE_PAGE, type FollowerChoice } from '@/core/followers/follower';
import { RateLimiter } from '@/core/limits/rate-limiter';
import { throttledClient } from '@/core/limits/sign-in-throttle';
import { Refusal } from '@/cases/frame/refusal';
import type { World } from '@/cases/frame/world';
import {
  askToFollow,
  chooseFollowing,
  confirmFollowing,
  endFollowing,
  endPush,
  fetchLinked,
  followByPush,
  VISITOR,
} from '@/cases/followers/visitors';
import { getPushKey } from '@/cases/messages/channels';
import { readBounded } from '@/outside/read';
import { renderFollow } from '@/site/render';
import type { FollowState } from '@/site/sheets/follow-sheet';
import { signFollowLink } from '@/store/followers/follow-links';
import type { Follower } from '@/store/followers/followers';
import { ensureTakeKey } from '@/store/messages/take-links';
import type { Page } from '@/store/pages/pages';
import { fetchLabels } from '@/store/pages/shown';
import { frameOf } from '@/views/pages/public-page';
import type { Asked } from './asked';
import type { SiteAssets } from './assets';
import { isRead, POLICY, sendGone, type Call } from './sending';

type Step = Asked & { what: 'follow' };

interface FollowOptions {
  world: () => World;
  assets: SiteAssets;
  now: () => number;
  /** Milliseconds of a clock nobody sets. */
  monotonic: () => number;
  zone: string;
  lookFile: (page: Page) => string | null;
}

const FORM = { mostBytes: 64_000, withinMs: 10_000 };
/** Whoever asks: a handful at once, then one a minute. */
const ASKS = { burst: 6, perSecond: 1 / 60, longestMs: 3_600_000 };
/** Whatever else is asked of it reads the page's lines, or a follower. */
const READS = { burst: 60, perSecond: 1, longestMs: 60_000 };

/** Where visitors of a page ask to be told by mail, say yes, choose, and end it. */
export class FollowDesk {
  private readonly asks = new RateLimiter(ASKS);
  private readonly reads = new RateLimiter(READS);
  private key: Promise<string> | null = null;

  constructor(private readonly options: FollowOptions) {}

  async answer(call: Call, step: Step): Promise<void> {
    const { request, response, client } = call;
    const posted = request.method === 'POST';
    if (!posted && !isRead(request)) {
      response.writeHead(405, { allow: 'GET, HEAD, POST' }).end();
      return;
    }
    const slowed = this.reads.waitMs(throttledClient(client), this.options.monotonic()) > 0;
    if (slowed) return this.refuseFast(call);
    if (step.step === 'push') return this.push(call);
    const form = posted ? await this.readForm(call) : null;
    if (posted && form === null) return;
    if (step.step === 'ask') return this.ask(call, form);
    return this.linked(call, step, form);
  }

  private refuseFast({ response }: Call): void {
    response.writeHead(429, {
      'retry-after': '60',
      'content-type': 'text/plain',
      'cache-control': 'no-store',
    });
    response.end('Too much was asked for at once. Please try again in a while.\n');
  }

  /** What a form was sent with; null where it was too long or too slow, which is answered. */
  private async readForm(call: Call): Promise<URLSearchParams | null> {
    const text = await this.readText(call);
    return text === null ? null : new URLSearchParams(text);
  }

  private async readText({ request, response }: Call): Promise<string | null> {
    const tooLong = Number(request.headers['content-length'] ?? 0) > FORM.mostBytes;
    // What comes all the same is let pass by, so that the answer is read before the line is cut.
    if (tooLong) request.resume();
    try {
      if (tooLong) throw new Error('too long');
      return (await readBounded(request, FORM)).toString('utf8');
    } catch {
      response.writeHead(413, {
        connection: 'close',
        'content-type': 'text/plain',
        'cache-control': 'no-store',
      });
      response.end('Expected a short form.\n');
      return null;
    }
  }

  private async ask(call: Call, form: URLSearchParams | null): Promise<void> {
    const { page } = call.entry;
    if (!page.follow && !page.pushes) return sendGone(call);
    const labels = await this.labelsOf(page);
    const pushKey = page.pushes ? await this.pushKey() : null;
    const byMail = page.follow !== null;
    const blank = {
      step: 'ask' as const,
      labels,
      mail: '',
      choice: WHOLE_PAGE,
      wrong: null,
      byMail,
      pushKey,
    };
    if (!form || !byMail) return this.send(call, blank, 200);
    const mail = (form.get('mail') ?? '').slice(0, 300);
    const choice = choiceOf(form, labels);
    const again = (wrong: 'mail' | 'slow', status: number) =>
      this.send(call, { ...blank, mail, choice, wrong }, status);
    if (this.asks.waitMs(throttledClient(call.client), this.options.monotonic()) > 0) {
      return again('slow', 429);
    }
    try {
      await askToFollow(
        VISITOR,
        { pageId: page.id, body: { mail, ...choice, language: call.language } },
        this.options.world(),
      );
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return again(error.code === 'follow.busy' ? 'slow' : 'mail', error.code === 'follow.busy' ? 429 : 422);
    }
    this.send(call, { step: 'asked', mail: mail.trim() }, 200);
  }

  /** What the script of the page says: where its browser is pushed to, or that it wants to hear no more. */
  private async push(call: Call): Promise<void> {
    const { request, response, entry, client } = call;
    const say = (status: number) => {
      response.writeHead(status, { 'cache-control': 'no-store', 'content-type': 'text/plain' }).end();
    };
    if (!entry.page.pushes) return sendGone(call);
    if (request.method !== 'POST') {
      response.writeHead(405, { allow: 'POST' }).end();
      return;
    }
    // No form of another site can say that it is JSON.
    if (!/^application\/json\b/.test(request.headers['content-type'] ?? '')) return say(415);
    const text = await this.readText(call);
    if (text === null) return;
    const world = this.options.world();
    const pageId = entry.page.id;
    try {
      const { off, ...body } = JSON.parse(text) as { off?: boolean };
      if (off === true) await endPush(VISITOR, { pageId, body }, world);
      else if (this.asks.waitMs(throttledClient(client), this.options.monotonic()) > 0)
        return this.refuseFast(call);
      else await followByPush(VISITOR, { pageId, body: { ...body, language: call.language } }, world);
      say(204);
    } catch (error) {
      if (error instanceof Refusal) return say(error.code === 'follow.busy' ? 429 : 422);
      if (error instanceof SyntaxError || error instanceof TypeError) return say(422);
      throw error;
    }
  }

  /** What browsers are bound to; it is made once and stays. */
  private pushKey(): Promise<string> {
    this.key ??= getPushKey(VISITOR, {}, this.options.world())
      .then(({ publicKey }) => publicKey)
      .catch((error: unknown) => {
        this.key = null;
        throw error;
      });
    return this.key;
  }

  private async linked(
    call: Call,
    { step, token }: Extract<Step, { token: string }>,
    form: URLSearchParams | null,
  ): Promise<void> {
    const world = this.options.world();
    const { page } = call.entry;
    const follower = await fetchLinked(world.db, world, step, token);
    if (!follower || follower.pageId !== page.id) return this.send(call, { step: 'over' }, 404);
    const mail = follower.address;
    if (step === 'yes') {
      if (!form) return this.send(call, { step, mail }, 200);
      await confirmFollowing(VISITOR, { body: { token } }, world);
      const own = signFollowLink('own', follower, await ensureTakeKey(world.db, world.vault));
      call.response.writeHead(303, { location: `../own/${own}`, 'cache-control': 'no-store' }).end();
      return;
    }
    if (step === 'off') {
      if (!form) return this.send(call, { step, mail }, 200);
      // Also what a mail program sends with one click (RFC 8058).
      await endFollowing(VISITOR, { body: { token } }, world);
      return this.send(call, { step: 'ended' }, 200);
    }
    const labels = await this.labelsOf(page);
    const choice = form ? choiceOf(form, labels) : follower.choice;
    if (form) await chooseFollowing(VISITOR, { body: { token, choice } }, world);
    const off = `../off/${await this.offToken(world, follower)}`;
    this.send(call, { step: 'own', mail, labels, choice, saved: form !== null, off }, 200);
  }

  private async offToken(world: World, follower: Follower): Promise<string> {
    return signFollowLink('off', follower, await ensureTakeKey(world.db, world.vault));
  }

  private async labelsOf(page: Page): Promise<string[]> {
    return [...new Set((await fetchLabels(this.options.world().db, page)).values())];
  }

  private send(
    { request, response, entry, root, language, asked }: Call,
    state: FollowState,
    status: number,
  ) {
    const { page } = entry;
    const chosen = asked.what === 'follow' ? asked.chosen : null;
    const body = renderFollow(frameOf(page, this.options.now(), this.options.zone), state, {
      ...{ language, place: { root, chosen, filed: false, live: true }, madeAt: null, whole: null },
      assets: this.options.assets.nameOf,
      lookFile: this.options.lookFile(page),
    });
    response.writeHead(status, {
      'cache-control': 'no-store',
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': POLICY,
      'x-robots-tag': 'noindex, nofollow',
      'content-length': Buffer.byteLength(body),
      ...(status === 429 && { 'retry-after': '60' }),
    });
    response.end(request.method === 'HEAD' ? undefined : body);
  }
}

/** What was chosen in a form, of the lines there are. */
function choiceOf(form: URLSearchParams, labels: readonly string[]): FollowerChoice {
  const chosen = form.getAll('label').filter((label) => labels.includes(label));
  return {
    labels: form.get('which') === 'some' && chosen.length > 0 ? chosen.slice(0, 500) : null,
    maintenance: form.get('maintenance') === 'yes',
  };
}
