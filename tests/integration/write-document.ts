import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { openApiDocument } from '@/api/openapi';

declare module 'vitest' {
  interface ProvidedContext {
    /** The OpenAPI document as JSON. */
    openApiFile: string;
  }
}

/** Makes the OpenAPI document once for all test files, and takes it away after them. */
export default function writeDocument(project: TestProject): () => void {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-document-'));
  const file = join(folder, 'openapi.json');
  writeFileSync(file, JSON.stringify(openApiDocument('http://127.0.0.1')));
  project.provide('openApiFile', file);
  return () => rmSync(folder, { recursive: true, force: true });
}
