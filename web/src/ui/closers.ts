// What is open over a page closes by Esc, the one opened last first. Dialogs close by themselves before it.

const open: (() => void)[] = []

/** Says how what was just opened closes; answers how it is forgotten when it has closed another way. */
export function closes(close: () => void): () => void {
  open.push(close)
  return () => void open.splice(open.lastIndexOf(close), 1)
}

addEventListener('keydown', (e) => {
  if (e.key !== 'Escape' || document.querySelector('dialog[open]')) return
  // Whoever else hears the key, such as a tool on the map, goes first.
  setTimeout(() => {
    if (!e.defaultPrevented) open.at(-1)?.()
  })
})
