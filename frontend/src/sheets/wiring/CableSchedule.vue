<script setup lang="ts">
// Every lead with the label for each end: on paper only.
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'

const job = useJob()
const { data } = useJobAnswer('schedule', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/schedule', { params: { path } })),
)
defineExpose({ ready: computed(() => data.value !== undefined) })
</script>

<template>
  <section class="sheet">
    <h1>{{ job.view?.title }}: cable schedule</h1>
    <table>
      <thead>
        <tr>
          <th>lead</th>
          <th>code</th>
          <th>from, and the label there</th>
          <th>to, and the label there</th>
          <th>class</th>
          <th>m</th>
          <th>done</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in data ?? []" :key="r.lead">
          <td>
            <b>{{ r.lead }}</b>
          </td>
          <td>{{ r.code }}</td>
          <td>
            {{ r.start }}<br /><small>{{ r.label_from }}</small>
          </td>
          <td>
            {{ r.to }}<br /><small>{{ r.label_to }}</small>
          </td>
          <td>{{ r.klass || `${r.kind}, ${r.plug}` }}</td>
          <td>{{ r.length_m || '?' }}</td>
          <td>{{ r.state === 'as found' ? 'hangs so' : r.state === 'not noted' ? '☐ look' : '☐' }}</td>
        </tr>
      </tbody>
    </table>
    <p>Everything off before leads go in or out. In-wall leads rated for it.</p>
  </section>
</template>

<style scoped>
.sheet {
  display: none;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 11pt;
}
th,
td {
  text-align: left;
  vertical-align: top;
  border-bottom: 1px solid #999;
  padding: 3px 8px 3px 0;
}
@media print {
  .sheet {
    display: block;
    color: #000;
  }
}
</style>
