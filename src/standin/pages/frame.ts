import { areaHtml, markupHtml, menuHtml, templateHtml } from './blocks.ts';
import { Html, html } from '../../protocol/index.ts';
import type { MenuValue, StyleValue, ThemeValue, View } from './view.ts';

/** The theme's frame around a page: colours and fonts of the site style, menus in their positions, areas with blocks. */
export function frame(view: View, title: string, main: Html): string {
  const theme = view.cms.state.config.facts.theme.name;
  const options = view.byName<ThemeValue>('tholepin/theme-options', theme);
  const site = view.option<{ title: string }>('tholepin/settings', 'site');
  const bottom = view.all<MenuValue>('tholepin/menu').find((menu) => menu.position === 'bottom');
  const notice = options && options.header.notice > 0 ? html`<div class="strip">${templateHtml(view, options.header.notice)}</div>` : html``;
  return html`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${title} – ${site?.title}</title><meta name="viewport" content="width=device-width">
<style>${new Html(css(view.cms.style().value as StyleValue, options))}</style></head>
<body>${notice}
<header><a class="name" href="/">${site?.title}</a><nav>${menuHtml(view, options && view.byId<MenuValue>(options.header.menu))}</nav></header>
<div class="banner">${areaHtml(view, 'banner')}</div>
<main>${main}</main>
<footer><div class="columns">${areaHtml(view, 'footer')}</div><nav>${menuHtml(view, bottom)}</nav>${markupHtml(view, options?.footer.text ?? '')}</footer>
</body></html>`.text;
}

/** Values of the style record stand in CSS; characters that could end a declaration are dropped. */
function css(style: StyleValue, options: ThemeValue | undefined): string {
  const plain = (text: string): string => text.replace(/[^\w#.,()% -]/g, '');
  const colour = (key: string, other: string): string => plain(style.colours.find((one) => one.key === key)?.value ?? other);
  const font = (key: string) => style.fonts.find((one) => one.key === key) ?? style.fonts[0];
  const [ink, ground, accent, deep] = [colour('ink', '#222'), colour('ground', '#fff'), colour('accent', '#555'), colour('deep', '#333')];
  return `
*{box-sizing:border-box}body{margin:0;color:${ink};background:${ground};font:${font('body')?.size ?? 16}px/1.55 ${plain(font('body')?.family ?? 'serif')}}
h1,h2,h3{font-family:${plain(font('heading')?.family ?? 'serif')};line-height:1.15;margin:1.1em 0 .4em}h1{font-size:${font('heading')?.size ?? 30}px}
a{color:${accent}}header{display:flex;gap:2rem;align-items:center;padding:1rem 3rem;background:${deep};color:#fff;${options?.header.sticky ? 'position:sticky;top:0' : ''}}
header .name{font-weight:700;font-size:1.3em;color:#fff;text-decoration:none}header a{color:#fff}nav ul{list-style:none;display:flex;gap:1.4rem;margin:0;padding:0;flex-wrap:wrap}
nav li{position:relative}nav ul ul{display:flex;gap:.8rem;font-size:.8em;opacity:.85}
main{max-width:62rem;margin:0 auto;padding:1.5rem 3rem 3rem}img.hero{width:100%;border-radius:10px;display:block}img{max-width:100%}img.small{max-width:11rem;border-radius:6px}
.strip,.banner .block{background:${accent};color:#fff;padding:.1rem 3rem}.strip+header+.banner .block{display:none}.notice{margin:.5rem 0}
table{border-collapse:collapse;width:100%;background:#fff8}th,td{text-align:left;padding:.5rem .8rem;border-bottom:1px solid ${deep}33}th{color:${deep}}
.cards{display:grid;grid-template-columns:repeat(auto-fill,minmax(15rem,1fr));gap:1rem}article{background:#fff;border-left:5px solid ${accent};padding:.2rem 1rem .6rem;border-radius:6px;box-shadow:0 1px 4px #0002}
article h3{margin:.5rem 0 .1rem;font-size:1.05em}article p{margin:0}.live{font-size:.5em;background:${accent};color:#fff;border-radius:1em;padding:.2em .8em;vertical-align:middle}
footer{background:${deep};color:#fff;padding:1.5rem 3rem;font-size:.9em}footer a{color:#fff}.columns{display:grid;grid-template-columns:repeat(${options?.footer.columns ?? 1},1fr);gap:1rem}.gap{opacity:.6}
${style.css.replaceAll('<', '')}`;
}
