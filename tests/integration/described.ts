/**
 * Every answer of the API that a test gets is held against the document. What checks it is loaded with the first answer:
 * most test files get none.
 */
const plain = globalThis.fetch;

globalThis.fetch = async (input, init) => {
  const response = await plain(input, init);
  const url = new URL(input instanceof Request ? input.url : String(input));
  const type = response.headers.get('content-type') ?? '';
  const match = /^\/api\/v1(?:\/(.*))?$/.exec(url.pathname);
  if (!match || !/json/.test(type) || url.pathname.endsWith('/openapi.json')) return response;
  const method = (init?.method ?? (input instanceof Request ? input.method : 'GET')).toUpperCase();
  const body = await response.clone().text();
  const path = match[1] === undefined ? '' : `/${match[1]}`;
  const { undescribed } = await import('./check-described');
  const wrong = undescribed(method, path, { status: response.status, type, body });
  if (wrong) throw new Error(wrong);
  return response;
};
