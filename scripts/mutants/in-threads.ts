// Changed code is tried in threads, where a process has no umask of its own to set.
process.umask = () => 0o022;
