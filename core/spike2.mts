import { parser, normalizeContextKey } from 'lezer-feel';
import { ContextTracker } from '@lezer/lr';
const names = ['Name','Unit price','Quantity','Lines','Discount','Apiary','Region','Mites per 100', 'Full region','Price in shop','Brood and eggs',...Array.from({length:600},(_, i)=>`Field number ${i}`),'string length','starts with','ends with','date and time','day of week','list contains'];
const id = (n:string)=>parser.nodeSet.types.filter(t=>t.name===n).map(t=>t.id);
const parts = new Set([...id('Identifier'), ...id('PropertyIdentifier')]); 
const wholes = new Set([...id('VariableName'),...id('PathName'),...id('Name'),...id('PropertyName'),...id('ParameterName')]);
console.log([...parts],[...wholes]);
const keys = new Set<string>(), prefixes = new Set<string>();
for (const n of names){const k=normalizeContextKey(n);keys.add(k);for(let i=1;i<=k.length;i++)prefixes.add(k.slice(0,i));}
const cache={keys,prefixes};
class Names { constructor(readonly tokens: string[]){} contextCache(){return cache;} }
const none = new Names([]);
const tracker = new ContextTracker<Names>({ start: none, strict:false,
 reduce(ctx, term, stack, input){
  if (parts.has(term)) return new Names([...ctx.tokens, (input as any).read((input as any).pos, stack.pos)]);
  if (wholes.has(term)) return none;
  return ctx;
 }});
const p = parser.configure({contextTracker: tracker});
const text = 'if sum(Lines[Kind = "jar"].Unit price) > 100 and Apiary.Full region = "North" then Quantity * Unit price * (1 - Discount / 100) else max(Mites per 100, string length(Name)) + count(Lines[Amount > 5 and Kind != "x"])';
console.log(text.length, p.parse(text).toString());
for (let k=0;k<5;k++){const ts:number[]=[];for(let i=0;i<200;i++){const t=performance.now();p.parse(text);ts.push(performance.now()-t);}ts.sort((a,b)=>a-b);console.log(ts[100]);}
for (const t of ['for i in 1..3 return i','for i in [1..3] return i','x in (1..5]','x in ]1..5[','[1..5]','x in ([1..5], 7)','x in not(5)','Price in shop + 1','Brood and eggs > 3','2 + -3','-x','- x.y','a.b[1].c','date','date and time(a, b)','time("10:00:00")','x instance of list<number>','x instance of date and time','x instance of days and time duration','sort(Lines, function(x,y) x.A < y.A)','{"a b": 1}','not','if a then b else c','1 + 2 * 3 - 4','a and b or c','a = b = c','today() - Date','years and months duration("a", b)','x in [>5]','a != b','(a) in (b)','Lines.Amount[1]','date(2026,1,2).year','"a"','duration("P1D")','null = a','x[item > 1 and item < 3]','# x','','  ','a..b','max(1,2)','split("a","b")[1]','a.b c','Sum of (x)','me.Name','list contains(a, "x")','every x in [1,2], y in [3] satisfies x < y','-(-1)','a -1','Hive.Apiary.Full region','+1','1 2','a b c d','string(1)','today ( )','is(a,b)', 'x > 1 x','"é\\n"','"a\nb"','3.','01','1e','a/b','a /b','date("x","y")','@"x']) console.log(JSON.stringify(t).padEnd(45), p.parse(t).toString());
const deep='('.repeat(5000)+'1'+')'.repeat(5000); let t0=performance.now(); p.parse(deep); console.log('deep',performance.now()-t0); 
const long='1'+' + 1'.repeat(2500); t0=performance.now(); p.parse(long); console.log('long',performance.now()-t0);
const words='a '.repeat(5000); t0=performance.now(); p.parse(words); console.log('words',performance.now()-t0);
const ifs='if a then '.repeat(1000); t0=performance.now(); p.parse(ifs); console.log('ifs',performance.now()-t0);
