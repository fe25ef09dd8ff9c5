/** Looks and behaviour of report pages: our own, and all that they have. */
export const STYLE = `
:root{color-scheme:light dark;--ink:#1b2733;--ground:#fbf9f4;--card:#fff;--line:#d8d2c4;--faint:#66707a;--new:#1d6f42;--differs:#8a5a00;--only:#5b4b8a;--clash:#a3271b;--mark:#ffe6a3}
@media(prefers-color-scheme:dark){:root{--ink:#e6e3da;--ground:#14191f;--card:#1c232b;--line:#39424c;--faint:#9aa5af;--new:#74c999;--differs:#e0b25c;--only:#b7a6e6;--clash:#f08d80;--mark:#5b4a12}}
*{box-sizing:border-box}body{margin:0;color:var(--ink);background:var(--ground);font:15px/1.5 system-ui,sans-serif}header,main{max-width:75rem;margin:auto;padding:.6rem 1.5rem}header p{margin:.3rem 0}h2:first-child{margin-top:.4rem}
h1{font-size:1.5rem;margin:.3rem 0}h1 span{font-weight:400;color:var(--faint)}h2{font-size:1.05rem;margin:1.4rem 0 .4rem;border-bottom:1px solid var(--line)}small,em,i{color:var(--faint);font-style:normal}
.new{color:var(--new)}.differs{color:var(--differs)}.only,.target-only{color:var(--only)}.clash{color:var(--clash)}.filters{display:flex;flex-wrap:wrap;gap:1rem;align-items:end;padding:.6rem 0}
fieldset{border:1px solid var(--line);border-radius:6px;margin:0;padding:.1rem .7rem}legend{font-size:.85em;color:var(--faint)}select,input[type=search]{font:inherit;color:inherit;background:var(--card);border:1px solid var(--line);border-radius:6px;padding:.25rem .5rem}
.card{background:var(--card);border:1px solid var(--line);border-radius:8px;margin:.4rem 0;padding:.35rem .8rem;break-inside:avoid}.card summary{cursor:pointer}.state{display:inline-block;min-width:5rem;font-weight:600}
table{border-collapse:collapse;width:100%;table-layout:fixed;margin:.5rem 0}th,td{text-align:left;vertical-align:top;padding:.3rem .5rem;border-top:1px solid var(--line);overflow-wrap:anywhere}th:first-child{width:26%;font-weight:500}
pre{margin:0;white-space:pre-wrap;font:13px/1.45 ui-monospace,monospace}code{font:13px ui-monospace,monospace}mark{background:var(--mark);color:inherit;border-radius:3px}dl{margin:0;display:grid;grid-template-columns:max-content 1fr;gap:.1rem .6rem}dt{color:var(--faint)}dd{margin:0}
.swatch{display:inline-block;width:1.1em;height:1.1em;border:1px solid var(--line);border-radius:3px;vertical-align:-.2em}:focus-visible{outline:2px solid var(--differs);outline-offset:2px}
@media print{.filters{display:none}body{font-size:11px}}`;

export const SCRIPT = `
const cards=[...document.querySelectorAll('.card')].map(card=>({card,kind:card.parentElement.dataset.kind,text:card.textContent.toLowerCase()}));
const kind=document.getElementById('kind'),text=document.getElementById('text'),shown=document.getElementById('shown');
function filter(){const states=new Set([...document.querySelectorAll('input[name=state]:checked')].map(one=>one.value)),wanted=text.value.toLowerCase();let count=0;
for(const one of cards){const fits=(kind.value===''||kind.value===one.kind)&&states.has(one.card.dataset.state)&&(wanted===''||one.text.includes(wanted));one.card.hidden=!fits;if(fits)count++;}
for(const section of document.querySelectorAll('section'))section.hidden=!section.querySelector('.card:not([hidden])');shown.textContent=count+' of '+cards.length+' items';}
document.querySelector('.filters').addEventListener('input',filter);document.querySelector('.filters').addEventListener('submit',event=>event.preventDefault());
addEventListener('beforeprint',()=>{for(const one of document.querySelectorAll('details'))one.open=true;});`;
