import { build } from 'vite';
import react from '@vitejs/plugin-react';
const targets = process.argv.slice(2);
await build({ root: '/work/main/web', configFile: false, logLevel: 'error', plugins: [react(), { name: 'chain', buildEnd() {
  for (const [from, target] of targets.map(t=>t.split('>'))) {
    const ids=[...this.getModuleIds()]; const start=ids.find(i=>i.endsWith(from)); const seen=new Map([[start,null]]); const q=[start]; let hit=null;
    while(q.length&&!hit){const id=q.shift(); for(const n of this.getModuleInfo(id)?.importedIds??[]) if(!seen.has(n)){seen.set(n,id); q.push(n); if(n.includes(target)){hit=n;break;}}}
    const path=[]; for(let x=hit;x;x=seen.get(x)) path.push(x.replace(/.*\/work\/main\//,'')); console.log(from,'>',target,':',path.reverse().join(' -> '));
  } } }], build: { write: false, target: 'es2023' } });
