/** A script that recognises a device by how it draws, renders, sounds and which fonts it has. */
export const READS_DEVICE = `(function(){
  var c = document.createElement('canvas'); c.width = 200; c.height = 40;
  var g = c.getContext('2d'); g.font = '16px serif'; g.fillText('Brindle ✓ 5', 4, 20); var drawn = c.toDataURL();
  var w = document.createElement('canvas').getContext('webgl');
  if (w) { var x = w.getExtension('WEBGL_debug_renderer_info'); w.getParameter(x ? x.UNMASKED_RENDERER_WEBGL : 37446) }
  var a = new OfflineAudioContext(1, 4410, 44100), o = a.createOscillator(); o.connect(a.destination); o.start(0); a.startRendering();
  var s = document.createElement('span'); s.textContent = 'mmmmmmmmlli'; s.style.position = 'absolute'; document.body.appendChild(s); var sizes = [];
  ['Arial','Verdana','Georgia','Courier','Palatino','Garamond','Tahoma','Futura','Optima','Rockwell','Candara','Didot'].forEach(function (f) { s.style.fontFamily = f; sizes.push(s.offsetWidth) });
  s.remove();
})();`;
