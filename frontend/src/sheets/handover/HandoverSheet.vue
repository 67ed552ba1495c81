<script setup lang="ts">
// One printable page: wiring, chosen signals and why they fit, settings to make, readings, cautions.
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { tell } from '../../shared/announce'
import { useKeys } from '../../shared/keys'
import { useJob } from '../../shared/job'
import VerdictIcon from '../../shared/VerdictIcon.vue'
import { shortTime } from '../../shared/words'
import BackParts from './BackParts.vue'
import ClientPart from './ClientPart.vue'
import LeavePart from './LeavePart.vue'

const job = useJob()
const { data, error } = useJobAnswer(
  'handover',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/handover', { params: { path } })),
  { also: () => [job.view?.rail.lag?.text], mounted: 'always' },
)
const someLook = (s: { seen: number; otherwise: string[]; stale: string[] }) =>
  s.seen > 0 || s.otherwise.length > 0 || s.stale.length > 0
const looked = computed(() => data.value?.seen.filter(someLook) ?? [])
const unseen = computed(() => (data.value?.seen ?? []).filter((s) => s.of && !someLook(s)).map((s) => s.run))
const path = computed(() => `/api/v1/jobs/${job.view?.uid ?? ''}`)
const print = () => window.print()
async function copyText() {
  const pages = [...document.querySelectorAll<HTMLElement>('.client, .page')]
  await navigator.clipboard.writeText(pages.map((p) => p.innerText).join('\n\n'))
  tell('The page is copied as text.')
}
useKeys([{ key: 'Shift+P', does: 'Print the hand-over', run: print }])
</script>

<template>
  <div class="tools row">
    <button class="go" @click="print">Print <kbd>⇧P</kbd></button>
    <button @click="copyText">Copy as text</button>
    <a class="button" :href="`${path}/handover.pdf`" target="_blank" rel="noopener">As PDF</a>
    <a class="button slight" :href="`${path}/handover.pdf?part=client`" target="_blank" rel="noopener"
      >The client’s page alone</a
    >
    <a class="button slight" :href="`${path}/handover.txt`" target="_blank" rel="noopener">As text</a>
    <a class="button" :href="`${path}/file`" download>Save the job file</a>
    <a class="button slight" :href="`${path}/pack.zip`" download>Save as a pack</a>
    <span class="quiet small"
      >The job file holds the whole job; a pack also its visits, kept states and logbook. “Read a job file or
      pack” on the job list brings either back.</span
    >
  </div>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <p v-else-if="!data" class="quiet">Setting the page…</p>
  <template v-else>
    <LeavePart />
    <ClientPart :page="data.client" :title="data.title" :day="shortTime(data.made_at, job.view?.time_zone)" />
    <article class="page">
      <header>
        <h1>For the technician</h1>
        <p>{{ data.title }}, plan as of {{ shortTime(data.made_at, job.view?.time_zone) }}</p>
      </header>
      <section v-if="data.open.length" class="open">
        <h2>Still open</h2>
        <ul>
          <li v-for="o in data.open" :key="o">{{ o }}</li>
        </ul>
      </section>
      <section v-if="data.improved.length">
        <h2>Since the first visit, {{ shortTime(data.since, job.view?.time_zone) }}</h2>
        <table class="plain">
          <thead>
            <tr>
              <th>What</th>
              <th>Was</th>
              <th>Is</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in data.improved" :key="r.what">
              <td>{{ r.what }}</td>
              <td>{{ r.was }}</td>
              <td>
                <b>{{ r.now }}</b><small v-if="r.says"><br />{{ r.says }}</small>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>What each run carries, and why it fits</h2>
        <table class="plain">
          <thead>
            <tr>
              <th>Run</th>
              <th>Signal</th>
              <th>Why</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in data.runs" :key="r.label">
              <td>
                <b>{{ r.label }}</b><br /><small class="quiet">{{ r.path }}</small>
              </td>
              <td>
                <VerdictIcon :verdict="r.verdict" word /><br /><b>{{ r.signal }}</b
                ><template v-if="r.with_.length"
                  ><br /><small>{{ r.with_.join(', ') }}</small></template
                >
              </td>
              <td>
                {{ r.why }}<template v-if="r.sound"><br />Sound: {{ r.sound }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>Wiring</h2>
        <table class="plain">
          <thead>
            <tr>
              <th>Lead</th>
              <th>Code</th>
              <th>From</th>
              <th>To</th>
              <th>Certified</th>
              <th>m</th>
              <th>Change</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in data.wiring" :key="l.label">
              <td>
                <b>{{ l.label }}</b>
              </td>
              <td class="fig">{{ l.code }}</td>
              <td>{{ l.start }}</td>
              <td>{{ l.end }}</td>
              <td>{{ l.grade }}</td>
              <td class="fig">{{ l.length_m }}</td>
              <td>{{ l.change || 'as found' }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>Backs of the boxes, as planned</h2>
        <BackParts :panels="data.panels" />
      </section>
      <section v-if="data.updates.length">
        <h2>Firmware first</h2>
        <ul>
          <li v-for="u in data.updates" :key="u.device">
            {{ u.device }}: from {{ u.found }} to <b>{{ u.plan }}</b>; then look at its settings again.
          </li>
        </ul>
      </section>
      <section v-if="data.firmware.length">
        <h2>Firmware as read</h2>
        <p>
          <span v-for="(f, n) in data.firmware" :key="f.device"
            >{{ n ? ', ' : '' }}{{ f.device }} <b>{{ f.version }}</b></span
          >.
        </p>
      </section>
      <section v-if="data.settings.length">
        <h2>Settings</h2>
        <table class="plain">
          <thead>
            <tr>
              <th>Box, socket</th>
              <th>Setting</th>
              <th>Found</th>
              <th>To be</th>
              <th>Where</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in data.settings" :key="s.device + s.socket + s.setting" :class="{ make: s.make }">
              <td>{{ s.device }}{{ s.socket ? `, ${s.socket}` : '' }}</td>
              <td>{{ s.setting }}</td>
              <td>{{ s.found }}</td>
              <td>
                <b v-if="s.plan">{{ s.plan }}</b>
                <small v-else class="quiet">nothing planned (factory: {{ s.factory }})</small>
              </td>
              <td>
                {{ s.where }}<small v-if="s.note"><br />{{ s.note }}</small>
              </td>
            </tr>
          </tbody>
        </table>
        <ul v-if="data.selections.length" class="select">
          <li v-for="s in data.selections" :key="s">{{ s }}</li>
        </ul>
      </section>
      <section>
        <h2>Seen on the boxes</h2>
        <p v-if="unseen.length">
          Nobody looked at {{ unseen.length === data.seen.length ? 'any run' : unseen.join(', ') }}: what they
          will show is predicted, not seen.
        </p>
        <table v-if="looked.length" class="plain">
          <thead>
            <tr>
              <th>Run</th>
              <th>As predicted</th>
              <th>Otherwise, or changed since</th>
              <th>Nobody looked at</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in looked" :key="s.run">
              <td>
                <b>{{ s.run }}</b>
              </td>
              <td>
                {{ s.of ? `${s.seen} of ${s.of} lines` : 'nothing to read'
                }}<small v-if="s.rate"><br />{{ s.rate }}</small>
              </td>
              <td>
                <template v-for="(o, n) in [...s.otherwise, ...s.stale]" :key="o"
                  ><br v-if="n" />{{ o }}</template
                >
              </td>
              <td>
                <template v-for="(o, n) in s.not_seen" :key="o"><br v-if="n" />{{ o }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>Light</h2>
        <p v-if="!data.light.length">No light was measured.</p>
        <table v-else class="plain small">
          <thead>
            <tr>
              <th scope="col">Box</th>
              <th scope="col">Where</th>
              <th scope="col">Measured</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in data.light" :key="l.device + l.cell">
              <td>{{ l.device }}</td>
              <td>{{ l.cell }}</td>
              <td>
                <template v-for="(line, n) in l.lines" :key="line"><br v-if="n" />{{ line }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>Lag</h2>
        <p v-if="!data.lag.length" class="quiet">Not measured.</p>
        <table v-else class="plain">
          <thead>
            <tr>
              <th>Screen</th>
              <th>Mode</th>
              <th>Median</th>
              <th>Readings</th>
              <th>Judged (common practice)</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in data.lag" :key="r.device + r.condition">
              <td>{{ r.device }}</td>
              <td>{{ r.condition }}</td>
              <td class="fig">{{ r.text }}</td>
              <td>{{ r.count }}, {{ r.method }}</td>
              <td>{{ r.judged }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section class="cautions">
        <h2>Cautions</h2>
        <ul>
          <li v-for="c in data.cautions" :key="c">{{ c }}</li>
        </ul>
      </section>
    </article>
  </template>
</template>

<style scoped>
.tools {
  margin-bottom: 12px;
}
a.button {
  color: var(--ink);
  text-decoration: none;
  display: inline-flex;
  align-items: center;
}
.page {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  padding: 22px 28px;
  max-width: 980px;
}
.page header {
  border-bottom: 2px solid var(--ink);
  margin-bottom: 12px;
}
.page h1 {
  font-size: 22px;
}
section {
  margin-bottom: 14px;
}
h2 {
  margin-bottom: 4px;
}
.page table {
  font-size: 13.5px;
}
.page td,
.page th {
  padding: 4px 8px;
}
.make td:first-child {
  box-shadow: inset 3px 0 var(--signal);
}
.open {
  border-left: 3px solid var(--blocked);
  padding-left: 12px;
}
ul {
  padding-left: 18px;
}
.cautions li {
  font-size: 13px;
}
.select {
  margin-top: 6px;
  font-size: 13.5px;
}
@media print {
  .tools {
    display: none;
  }
  .page {
    border: 0;
    padding: 0;
    max-width: none;
    background: #fff;
    color: #000;
  }
  section {
    break-inside: avoid;
    margin-bottom: 7pt;
  }
  .page,
  .page table,
  .cautions li,
  .select {
    font-size: 8.5pt;
    line-height: 1.3;
  }
  .page td,
  .page th {
    padding: 1.5pt 5pt;
  }
  .page h1 {
    font-size: 14pt;
  }
  .page header {
    margin-bottom: 6pt;
  }
}
</style>
