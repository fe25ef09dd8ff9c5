import { createHash } from 'node:crypto';
import { Html, html } from '../core/html.ts';

/** Looks and behaviour of report pages: our own, and all that they have. */
const STYLE = `
:root{color-scheme:light dark;--ink:#1b2733;--ground:#fbf9f4;--card:#fff;--line:#d8d2c4;--faint:#5d6770;--new:#1d6f42;--differs:#8a5a00;--only:#5b4b8a;--clash:#a3271b;--mark:#ffe6a3;--link:#1d5a86}
@media(prefers-color-scheme:dark){:root{--ink:#e6e3da;--ground:#14191f;--card:#1c232b;--line:#39424c;--faint:#9aa5af;--new:#74c999;--differs:#e0b25c;--only:#b7a6e6;--clash:#f08d80;--mark:#5b4a12;--link:#8cc4ee}}
*{box-sizing:border-box}[hidden]:not([hidden=until-found]){display:none!important}body{margin:0;color:var(--ink);background:var(--ground);font:15px/1.5 system-ui,sans-serif}header,main{max-width:75rem;margin:auto;padding:.6rem 1.5rem}header p{margin:.3rem 0}main{padding-bottom:4rem}
.open{border-left:4px solid var(--clash);padding-left:.7rem}ol.steps{padding-left:2.2rem}ol.steps li{margin:.15rem 0}.skip{position:absolute;left:-99rem}.skip:focus{left:1rem;top:.5rem;background:var(--card);padding:.4rem .8rem;z-index:3}
h1{font-size:1.5rem;margin:.3rem 0}h1 span{font-weight:400;color:var(--faint)}h2{font-size:1.05rem;margin:1.4rem 0 .4rem;border-bottom:1px solid var(--line)}h2:first-child{margin-top:.4rem}h3{font-size:1rem;margin:.6rem 0 .2rem}small,em,i,figcaption{color:var(--faint);font-style:normal}
.new,.create{color:var(--new)}.differs,.update{color:var(--differs)}.only,.target-only{color:var(--only)}.clash,.bad{color:var(--clash)}.filters{display:flex;flex-wrap:wrap;gap:1rem;align-items:end;padding:.6rem 0;position:sticky;top:0;background:var(--ground);z-index:2;max-width:75rem;margin:auto}
fieldset{border:1px solid var(--line);border-radius:6px;margin:0;padding:.1rem .7rem}legend{font-size:.85em;color:var(--faint)}select,input[type=search],button{font:inherit;color:inherit;background:var(--card);border:1px solid var(--line);border-radius:6px;padding:.25rem .5rem}button{cursor:pointer}
.card{background:var(--card);border:1px solid var(--line);border-radius:8px;margin:.4rem 0;padding:.35rem .8rem;break-inside:avoid}.batch{content-visibility:auto}.head{cursor:pointer}.head button{border:0;background:none;padding:0 .3rem;color:var(--faint);font-size:.85em}.head button::before{content:'\\25B8';display:inline-block;width:1.1em}.head button[aria-expanded=true]::before{content:'\\25BE'}.state{display:inline-block;min-width:5rem;font-weight:600}
table{border-collapse:collapse;width:100%;table-layout:fixed;margin:.5rem 0}th,td{text-align:left;vertical-align:top;padding:.3rem .5rem;border-top:1px solid var(--line);overflow-wrap:anywhere}.card th:first-child{width:24%;font-weight:500}table.wide{table-layout:auto}.wide td{overflow-wrap:break-word}.wide td:first-child{white-space:nowrap}a{color:var(--link)}
pre{margin:0;white-space:pre-wrap;font:13px/1.45 ui-monospace,monospace}code{font:13px ui-monospace,monospace}mark{background:var(--mark);color:inherit;border-radius:3px;text-decoration:underline}.cut{font-size:.9em;background:var(--ground);border-radius:3px;padding:0 .3rem}.cut.lines{display:block}dl{margin:0;display:grid;grid-template-columns:max-content 1fr;gap:.1rem .6rem}dt{color:var(--faint)}dd{margin:0;min-width:0}.card td,.card dd{white-space:pre-wrap}.card dl,.card ol{white-space:normal}.card li{white-space:pre-wrap}td ol{margin:0;padding-left:1.2rem}
.swatch{display:inline-block;width:1.4em;height:1.4em;border:1px solid var(--line);border-radius:4px;vertical-align:-.35em}.sample{font-size:1.15em}figure{margin:0}img{max-width:100%;max-height:14rem;border:1px solid var(--line);border-radius:4px;background:#fff}
.raw{font-size:.9em;color:var(--faint)}.raw summary{cursor:pointer}.previews{display:grid;grid-template-columns:1fr 1fr;gap:.8rem;margin:.5rem 0}.previews iframe{width:200%;height:26rem;border:1px solid var(--line);background:#fff;transform:scale(.5);transform-origin:0 0;margin-bottom:-13rem;border-radius:8px}.previews>div{overflow:hidden}
.graph,.card{scroll-margin-top:5.5rem}.canvas{overflow:auto;border:1px solid var(--line);border-radius:8px;background:var(--card);max-height:34rem}.arrow{fill:none;stroke:var(--faint);stroke-opacity:.55}.arrow.circle{stroke:var(--clash);stroke-dasharray:5 3;stroke-opacity:1}#tip path{fill:var(--faint)}#tip-circle path{fill:var(--clash)}
.node rect{fill:var(--ground);stroke:var(--line)}.node.new rect,.node.create rect{stroke:var(--new)}.node.differs rect,.node.update rect{stroke:var(--differs)}.node text{font:12px ui-monospace,monospace;fill:var(--ink)}.node{cursor:pointer}.node:focus-visible{outline:none}.node:focus-visible rect,.node.chosen rect{stroke-width:3}.dim{opacity:.2}
#around{margin:.5rem 0}.near{display:grid;grid-template-columns:1fr 1fr 1fr;gap:.8rem;border:1px solid var(--line);border-radius:8px;padding:.5rem .8rem;background:var(--card)}.near ul{margin:.2rem 0;padding-left:1.1rem}.near button{border:0;padding:0;background:none;text-decoration:underline;text-align:left}
:focus-visible{outline:2px solid var(--differs);outline-offset:2px}
@media print{.filters,.raw,.skip,#around{display:none}body{font-size:11px}.batch,.body[hidden]{content-visibility:visible}.body[hidden]{display:block}.head button{visibility:hidden}.canvas{max-height:none;overflow:visible}.canvas svg{max-width:100%;height:auto}}`;

const SCRIPT = `
const find=(wanted)=>document.querySelector(wanted),all=(wanted,from=document)=>[...from.querySelectorAll(wanted)];
const cards=all('.card').map(card=>({card,kind:card.dataset.kind,state:card.dataset.state,section:card.closest('section'),batch:card.closest('.batch')}));
const foldable=cards.map(one=>one.card).filter(card=>card.querySelector('.body'));
const inside=(card)=>card.querySelector('.body>script');
function unpack(card){const packed=inside(card);if(packed)packed.parentElement.innerHTML=packed.text;}
const CODES={'<':'&lt;','>':'&gt;','&':'&amp;','"':'&quot;',"'":'&#39;'},coded=(text)=>text.replace(/[<>&"']/g,(sign)=>CODES[sign]);
function textOf(card){const packed=inside(card);if(!packed)return coded(card.textContent.toLowerCase());
return (coded(card.querySelector('.head').textContent)+packed.text.replace(/<[^>]*>/g,'')).toLowerCase();}
const opened=(text)=>text.replace(/&#(?!39;)(\\d+);/g,(all,code)=>String.fromCodePoint(Number(code))).toLowerCase();
function fold(card,open){const body=card.querySelector('.body');if(!body)return;unpack(card);if(open)body.removeAttribute('hidden');else body.setAttribute('hidden','until-found');
card.querySelector('.head button').setAttribute('aria-expanded',String(open));}
document.addEventListener('click',event=>{const head=event.target.closest('.head');if(head&&getSelection().isCollapsed)fold(head.parentElement,head.querySelector('button').getAttribute('aria-expanded')!=='true');});
document.addEventListener('beforematch',event=>{const card=event.target.closest('.card');if(card)fold(card,true);});
const kind=find('#kind'),text=find('#text'),shown=find('#shown');
function filter(){const began=performance.now(),states=new Set(all('input[name=state]:checked').map(one=>one.value)),wanted=coded(text.value.trim().toLowerCase()),beyond=/[^\\0-\\x7f]/.test(wanted),full=new Set(),heights=new Map();let count=0;
for(const one of cards){let fits=(kind.value===''||kind.value===one.kind)&&states.has(one.state);
if(fits&&wanted!==''){one.text??=textOf(one.card);if(beyond)one.opened??=opened(one.text);fits=(beyond?one.opened:one.text).includes(wanted);}
if(one.card.hidden===fits)one.card.hidden=!fits;if(fits){count++;full.add(one.section);heights.set(one.batch,(heights.get(one.batch)??0)+3);}}
for(const section of new Set(cards.map(one=>one.section)))section.hidden=!full.has(section);
for(const batch of new Set(cards.map(one=>one.batch))){batch.hidden=!heights.has(batch);batch.style.containIntrinsicSize='auto '+(heights.get(batch)??0)+'rem';}
shown.textContent=count+' of '+cards.length+' items';shown.dataset.took=(performance.now()-began).toFixed(1);}
find('.filters')?.addEventListener('input',filter);find('.filters')?.addEventListener('submit',event=>event.preventDefault());
find('#unfold')?.addEventListener('click',event=>{const open=event.currentTarget.getAttribute('aria-pressed')!=='true';event.currentTarget.setAttribute('aria-pressed',String(open));for(const one of foldable)if(!one.hidden)fold(one,open);});
addEventListener('beforeprint',()=>{for(const one of foldable)unpack(one);});
let ready=0;function prepare(){for(const one of cards.slice(ready,ready+=100))one.text??=textOf(one.card);if(ready<cards.length)setTimeout(prepare);}
setTimeout(prepare);
const edges=find('#edges')?JSON.parse(find('#edges').textContent):[],around=find('#around');
const needs=new Map(edges.map(([name,,to])=>[name,to])),users=new Map();
for(const [name,,to] of edges)for(const one of to)users.set(one,[...(users.get(one)??[]),name]);
const element=(name,content)=>{const made=document.createElement(name);made.append(...[content].flat());return made;};
function list(title,names){const items=names.map(name=>{const button=element('button',name);button.type='button';button.addEventListener('click',()=>near(name));return element('li',button);});
return element('div',[element('h3',title),names.length>0?element('ul',items):element('p','nothing')]);}
function near(name){const members=edges.map(one=>one[0]).filter(one=>one===name||one.startsWith(name+':'));
for(const node of all('.node'))node.classList.toggle('chosen',node.dataset.name===name);
for(const path of all('.arrow'))path.classList.toggle('dim',path.dataset.from!==name&&path.dataset.to!==name);
const box=element('div',[]);box.className='near';
if(needs.has(name)){const middle=element('div',[element('h3',name)]);const card=all('.card').find(one=>one.dataset.address===name);
if(card){const link=element('a','to its card');link.href='#'+card.id;link.addEventListener('click',()=>{fold(card,true);});middle.append(link);}
box.append(list('needs',needs.get(name)),middle,list('is needed by',users.get(name)??[]));}
else box.append(list(name,members));
around.replaceChildren(box);}
for(const node of all('.node')){node.addEventListener('click',()=>near(node.dataset.name));node.addEventListener('keydown',event=>{if(event.key==='Enter'||event.key===' '){event.preventDefault();near(node.dataset.name);}});}`;

/** What a page is made of. */
export interface PageParts { readonly title: string; readonly header: Html; readonly main: Html; readonly made: string }

/** One self-contained page: it asks for nothing from elsewhere, and runs no script but its own. It is laid out once, when all of it was read. */
export function page({ title, header, main, made }: PageParts): string {
  const hash = createHash('sha256').update(SCRIPT).digest('base64');
  return plainBytes(html`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; img-src data:; script-src 'sha256-${hash}'">
<link rel="expect" blocking="render" href="#end"><title>${title}</title><style>${new Html(STYLE)}</style></head><body><a class="skip" href="#main">To the contents</a>
<header>${header}<p><small>Made ${made.slice(0, 16).replace('T', ' ')} UTC.</small></p></header>
<main id="main">${main}</main>
<noscript><p>Places of folded items are shown by the script of this page, which does not run here.</p></noscript>
<script id="end">${new Html(SCRIPT)}</script></body></html>`.text);
}

/** So many signs of a text may be beyond ASCII for it to be written without them. */
const FEW = 0.02;

/**
 * A page in which few signs are beyond ASCII, with these as character references (HTML Living Standard, "Character references"): browsers decode
 * and parse plain bytes in three quarters of the time. Style, script and data in it are plain already.
 */
function plainBytes(text: string): string {
  const beyond = text.match(/[^\0-\x7f]/g)?.length ?? 0;
  return beyond > text.length * FEW ? text : text.replace(/[^\0-\x7f]/gu, (sign) => `&#${sign.codePointAt(0) ?? 0};`);
}
