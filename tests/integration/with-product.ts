import { rmSync } from 'node:fs';
import { afterAll, beforeAll } from 'vitest';
import { startProduct, type Product, type ProductOptions } from './helpers';

/** Starts a product of its own before the tests of a group, hands it over, and takes it down after them. */
export function withProduct(take: (product: Product) => void, options?: ProductOptions): void {
  let product: Product | undefined;
  beforeAll(async () => take((product = await startProduct(options))));
  afterAll(async () => {
    await product?.stop();
    if (product) rmSync(product.folder, { recursive: true, force: true });
  });
}
