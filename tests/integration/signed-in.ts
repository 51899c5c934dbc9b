import { EMAIL, PASSWORD, startProduct, type Product } from './helpers';

/** Starts the product, on a folder of its own where none is said, with somebody signed in at its desk. */
export async function startSignedIn(folder?: string): Promise<{ product: Product; cookie: string }> {
  const env = { LANTERN_ADMIN_EMAIL: EMAIL, LANTERN_ADMIN_PASSWORD: PASSWORD };
  const product = await startProduct({ env, ...(folder !== undefined && { folder }) });
  const signedIn = await fetch(`${product.base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: product.base },
    body: JSON.stringify({ email: EMAIL, password: PASSWORD }),
  });
  return { product, cookie: signedIn.headers.get('set-cookie')!.split(';')[0]! };
}
