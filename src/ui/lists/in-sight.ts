/**
 * Tells whether an element is in sight, or so near to it as the margin says, whenever that changes; ends with what is
 * returned. On a busy page several changes come at once, the last of them last.
 */
export function watchSight(
  element: Element,
  rootMargin: string,
  tell: (isNear: boolean, height: number) => void,
): () => void {
  const sight = new IntersectionObserver(
    (changes) => {
      const { isIntersecting, boundingClientRect } = changes.at(-1)!;
      tell(isIntersecting, boundingClientRect.height);
    },
    { rootMargin },
  );
  sight.observe(element);
  return () => sight.disconnect();
}
