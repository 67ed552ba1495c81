<script setup lang="ts">
// What screens store apart, as far as the job needs it.

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import CoverageTable from './CoverageTable.vue'

const { data: coverage, error } = useJobAnswer(
  'coverage',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/coverage', { params: { path } })),
  { mounted: 'always' },
)
</script>

<template>
  <section aria-label="Coverage">
    <p v-if="error" class="attn">{{ error.message }}</p>
    <CoverageTable v-for="s in coverage ?? []" :key="s.device" :screen="s" />
    <p v-if="coverage && !coverage.length" class="quiet">
      No screen of this job is known to store its picture apart by input, range or mode. Its profile says so
      with “is stored apart for each” (Gear, What it is).
    </p>
  </section>
</template>
