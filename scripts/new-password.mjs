// npm run new-password [-- EMAIL]: gives an account another password, for whoever cannot sign in any more.
import { ensureBuilt, ensureInstalled } from './ensure.mjs';

ensureInstalled();
ensureBuilt();
await import('../dist/new-password.js');
