/** Both answers share one rule, so that neither can be made the easier one. */
export const STYLE = `
:host{all:initial;position:fixed;inset:auto 0 0 0;z-index:2147483647;display:block;direction:inherit}
:host([dir=rtl]){direction:rtl}
section{box-sizing:border-box;max-height:80vh;overflow:auto;padding:20px 24px;background:var(--yare-background);color:var(--yare-text);border-top:3px solid var(--yare-button);font:var(--yare-size)/1.5 var(--yare-face)}
:host([data-layout^=corner]){inset:auto 16px 16px auto;width:min(26rem,calc(100vw - 32px))}
:host([data-layout^=side]){inset:0 0 0 auto;width:min(28rem,100vw)}
:host([data-layout^=centred]){inset:0;display:grid;place-items:center;pointer-events:none}
:host([data-layout^=side]) section{height:100%;max-height:none}
:host([data-layout^=centred]) section{width:min(36rem,calc(100vw - 32px));pointer-events:auto}
:host([data-layout^=co]) section,:host([data-layout^=ce]) section{border-radius:calc(2*var(--yare-radius));box-shadow:0 4px 24px #0004}
section>*{max-width:60rem;margin-left:auto;margin-right:auto}
h2{font-size:1.19em;line-height:1.3;margin-top:0;margin-bottom:6px}h2:focus{outline:none}
p{margin-top:0;margin-bottom:14px}a{color:inherit}
.buttons{display:flex;flex-wrap:wrap;gap:12px;margin-bottom:12px}
button{flex:1 1 9rem;max-width:20rem;min-height:44px;padding:8px 20px;border:2px solid var(--yare-button);border-radius:var(--yare-radius);background:var(--yare-button);color:var(--yare-buttontext);font:600 1em/1.2 var(--yare-face);cursor:pointer}
summary{cursor:pointer;padding:8px 0;font-weight:600;text-decoration:underline}
.purpose{display:flex;gap:10px;padding:6px 0;align-items:start}.purpose input{width:20px;height:20px;margin:2px 0;flex:none;accent-color:var(--yare-button)}
details button{margin-top:8px}.uses{margin-inline-start:30px;font-size:.875em}.uses summary{font-weight:400;padding:4px 0}ul{margin:0 0 8px;padding-inline-start:18px;overflow-wrap:anywhere}
:host(yare-again){inset:auto auto 12px 12px}:host([data-place=right]){inset:auto 12px 12px auto}.again{min-height:36px;padding:4px 12px;font-size:14px}
:host(yare-held){position:static;z-index:0;box-sizing:border-box;max-width:100%;overflow:auto;padding:12px;border:1px solid #767676;background:#f4f4f4;color:#1a1a1a;font:14px/1.4 system-ui,sans-serif}
:host(yare-held) button{border-color:#1a1a1a;background:#1a1a1a;color:#fff;font:600 14px system-ui,sans-serif}
button:focus-visible,summary:focus-visible,input:focus-visible,a:focus-visible{outline:3px solid var(--yare-text,#1a1a1a);outline-offset:2px}
.receipt{font-size:.8125em;margin-bottom:0}
@media(max-width:30rem){button{flex-basis:100%;max-width:none}}
`;
