// curl -O http://127.0.0.1:8420/page/nodley.js, then: node without-a-page.mjs
import { open } from "./nodley.js";

const opened = await open("vessel", { at: "http://127.0.0.1:8420" });
for (const moment of ["opened", "changed", "refused", "accepted", "closed"]) {
  opened.addEventListener(moment, () => console.log(moment));
}
opened.set("callSign", "mq-2zz");
opened.set("length", "11.4");
console.log((await opened.submit()).kind);
console.log(opened.state().fields.name.error.detail);
opened.set("name", "Grey Heron");
opened.set("insured", true);
const outcome = await opened.submit();
console.log(outcome.record.called);
opened.close();
