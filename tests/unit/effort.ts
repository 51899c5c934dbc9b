/** Milliseconds of the processor this process has used; the machine may do what it likes beside it. */
export function processorMs(since?: NodeJS.CpuUsage): number {
  const { user, system } = process.cpuUsage(since);
  return (user + system) / 1000;
}

/** What some work takes of the processor, in ms: the least of several times, so that it is the work that is compared. */
export function effortOf(work: () => void, times = 5): number {
  const once = () => {
    const began = process.cpuUsage();
    work();
    return processorMs(began);
  };
  return Math.max(0.1, Math.min(...Array.from({ length: times }, once)));
}
