// Before anything is drawn: the light a visitor chose the last time.
try {
  const chosen = localStorage.getItem('lantern-light');
  if (chosen === 'light' || chosen === 'dark') document.documentElement.dataset.theme = chosen;
} catch {
  // Where nothing may be kept, the visitor's system decides.
}
