import { join } from 'node:path';
import { WaitingEngine } from './waiting-engine';

// The front door and the engine each take most of a second to be read: both at once.
const waiting = new WaitingEngine(join(import.meta.dirname, 'engine.js'));
const { openDoor } = await import('./door.js');
openDoor(waiting);
