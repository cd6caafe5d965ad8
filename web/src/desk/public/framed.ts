/** What is public within a page of another site: that page makes room for as much as is shown. `public/embed.js` is the other end. */
import { useEffect } from 'react';

const isFramed = window.parent !== window;

/** Tells the page around how high this one is, whenever that changes. */
export function useToldHeight(): void {
  useEffect(() => {
    if (!isFramed) return undefined;
    // The page is as high as what is on it, not as the frame is for now.
    document.documentElement.classList.add('framed');
    let told = -1;
    const tell = (): void => {
      const height = Math.ceil(document.body.getBoundingClientRect().height);
      if (height === told) return;
      told = height;
      // A number is all that is told, so any page around can hear it.
      window.parent.postMessage({ bibliona: 'height', height }, '*');
    };
    const watching = new ResizeObserver(tell);
    watching.observe(document.body);
    // Browsers draw no frame that is out of sight, and so tell of no sizes there; what comes into it they do.
    const changing = new MutationObserver(tell);
    changing.observe(document.body, { childList: true, subtree: true, characterData: true });
    tell();
    return () => {
      watching.disconnect();
      changing.disconnect();
    };
  }, []);
}
