<script setup lang="ts">
// A screen from its EDID: what it says becomes a box; what no EDID says stays open.
import { nextTick, ref } from 'vue'

import { api, ask, type Profile } from '../../../api/client'
import CheckRow from './CheckRow.vue'
import { begun } from './draft'
import EdidSource from './EdidSource.vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ pick: [profile: Profile] }>()
const row = ref<InstanceType<typeof CheckRow> | null>(null)
const fault = ref('')
const read = () => ask(api.POST('/api/v1/edid/profile', { body: { text: begun.edid } }))
const picked = async () => {
  await nextTick()
  await row.value?.check()
}
</script>

<template>
  <EdidSource v-model="begun.edid" @fault="fault = $event" @picked="picked" />
  <CheckRow
    ref="row"
    v-model:fault="fault"
    :given="begun.edid"
    :ask="read"
    :busy="busy"
    @pick="emit('pick', $event)"
  />
  <p class="quiet small">Not in an EDID: its lag, its menus, its other inputs, and which settings were on.</p>
</template>
