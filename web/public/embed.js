/*
 * Shows what is public of an app within a page of another site:
 *   <script src="https://…/embed.js" async></script>
 *   <bibliona-form form="app/form"></bibliona-form>
 *   <bibliona-list list="app/list"></bibliona-list>
 *   <bibliona-report report="app/report"></bibliona-report>
 *   <bibliona-tile tile="app/dashboard.tile"></bibliona-tile>
 * Any number of them, also ones that come into the page later. Each is as high as what it shows.
 */
(() => {
  const script = document.currentScript;
  if (script === null || customElements.get('bibliona-form') !== undefined) return;
  const { origin } = new URL(script.src);
  const highest = 20000;
  /** For each kind what its address has before its name, and what it is called unless the page says. */
  const kinds = { form: ['', 'Form'], list: ['list/', 'List'], report: ['report/', 'Report'], tile: ['tile/', 'Figures'] };

  for (const [kind, [before, called]] of Object.entries(kinds))
    customElements.define(
      `bibliona-${kind}`,
      class extends HTMLElement {
        connectedCallback() {
          if (this.frame !== undefined) return;
          const [app = '', name = ''] = (this.getAttribute(kind) ?? '').split('/');
          this.frame = document.createElement('iframe');
          this.frame.src = `${origin}/public/${encodeURIComponent(app)}/${before}${encodeURIComponent(name)}`;
          this.frame.title = this.getAttribute('title') ?? called;
          this.frame.style.cssText = 'display: block; width: 100%; height: 480px; border: 0';
          this.append(this.frame);
        }
      },
    );

  const all = Object.keys(kinds)
    .map((kind) => `bibliona-${kind}`)
    .join(', ');
  window.addEventListener('message', ({ origin: from, source, data }) => {
    if (from !== origin || data?.bibliona !== 'height' || typeof data.height !== 'number') return;
    for (const { frame } of document.querySelectorAll(all))
      if (frame?.contentWindow === source) frame.style.height = `${Math.min(Math.max(data.height, 40), highest)}px`;
  });
})();
