<script setup lang="ts">
// Choose from the starter library, or read a profile file.
import { useQuery } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'

import { api, ask, type Device, type Profile } from '../../api/client'
import TemplateBox from './TemplateBox.vue'
import UnlistedBox from './UnlistedBox.vue'

const { rooms, replaces = null } = defineProps<{ rooms: string[]; replaces?: Device | null }>()
const emit = defineEmits<{ add: [profile: Profile, room: string]; own: [room: string] }>()
const visible = defineModel<boolean>('visible', { required: true })
const search = ref('')
const room = ref('')

const { data, error } = useQuery({
  queryKey: ['library'],
  queryFn: () => ask(api.GET('/api/v1/library')),
  enabled: visible,
})
const ROLES = { source: 'Sources', repeater: 'In between', screen: 'Screens', sound: 'Sound' } as const
const groups = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  const hit = (p: Profile) => words.every((w) => `${p.name} ${p.kind} ${p.summary}`.toLowerCase().includes(w))
  return Object.entries(ROLES).map(([role, name]) => ({
    name,
    list:
      data.value?.filter((p) => p.role === role && (!replaces || p.role === replaces.role) && hit(p)) ?? [],
  }))
})
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :header="replaces ? `Another box in the place of ${replaces.label}` : 'Add a box'"
    :style="{ width: '720px', maxWidth: '96vw' }"
  >
    <div class="row">
      <label for="library-search">Search</label>
      <InputText id="library-search" v-model="search" autofocus placeholder="console, 120 Hz, receiver…" />
      <template v-if="!replaces">
        <label for="library-room">Room</label>
        <InputText id="library-room" v-model="room" list="rooms" />
        <button @click="emit('own', room)">Write your own</button>
      </template>
      <datalist id="rooms"><option v-for="r in rooms" :key="r" :value="r" /></datalist>
    </div>
    <p v-if="error" class="attn">{{ error.message }}</p>
    <p v-else-if="!data" class="quiet small" role="status">Reading the library…</p>
    <template v-for="g in groups" :key="g.name">
      <h2 v-if="g.list.length">{{ g.name }}</h2>
      <ul>
        <li v-for="p in g.list" :key="p.id">
          <button class="add" @click="emit('add', p, room)">{{ replaces ? 'Take it' : 'Add' }}</button>
          <b>{{ p.name }}</b> <span class="quiet">{{ p.summary }}</span>
        </li>
      </ul>
    </template>
    <TemplateBox @add="emit('add', $event, room)" />
    <UnlistedBox @add="emit('add', $event, room)" />
  </Dialog>
</template>

<style scoped>
h2 {
  margin: 12px 0 2px;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  padding: 3px 0;
}
.add {
  min-height: 28px;
  padding: 2px 12px;
  margin-right: 8px;
}
</style>
