// Before the first paint, so that the page does not flash in the other theme.
{
  const chosen = localStorage.getItem('insel.theme')
  const isDark = chosen === 'dark' || (chosen !== 'light' && matchMedia('(prefers-color-scheme: dark)').matches)
  document.documentElement.dataset.theme = isDark ? 'dark' : 'light'
}
