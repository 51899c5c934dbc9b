import { rmSync } from 'node:fs';
import { afterAll, beforeAll } from 'vitest';
import { startProduct, type Product, type ProductOptions } from './helpers';

/** Starts one before the tests of a group, hands it over, and takes it down after them. */
export function around<P extends Pick<Product, 'folder' | 'stop'>>(
  take: (product: P) => void,
  start: () => Promise<P>,
): void {
  let product: P | undefined;
  beforeAll(async () => take((product = await start())));
  afterAll(async () => {
    await product?.stop();
    if (product) rmSync(product.folder, { recursive: true, force: true });
  });
}

/** A product of its own for the tests of a group, as it is shipped. */
export function withProduct(take: (product: Product) => void, options?: ProductOptions): void {
  around(take, () => startProduct(options));
}
