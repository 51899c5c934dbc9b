import { parentPort } from 'node:worker_threads';
import type { PictureUse } from '@/core/pages/picture';
import { preparePicture } from '@/site/pictures/prepare';
import type { MadePicture } from '@/store/pages/pictures';

export interface PictureAsk {
  bytes: Uint8Array;
  use: PictureUse;
}

export type PictureAnswer = MadePicture | { problem: string };

/** Reads pictures apart from the thread that hears check-ins: they come from anywhere, and may be made to take long. */
parentPort?.on('message', ({ bytes, use }: PictureAsk) => {
  void preparePicture(bytes, use).then((answer) => parentPort!.postMessage(answer));
});
