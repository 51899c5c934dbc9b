import { beginCopy } from './copy';
import { beginDays } from './days';
import { beginLive } from './live';
import { beginTheme } from './theme';
import { beginTimes } from './times';

// Every sheet is complete without this; it makes reading it easier.
beginTheme();
beginTimes();
beginDays();
beginCopy();
beginLive();
