<script setup lang="ts">
// Boxes to choose from: the workshop's own first, then the made-up starters, which can be hidden.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type ShelfEntry, type ShelfRow } from '../../../api/client'
import PickRow from '../../../shared/PickRow.vue'
import { begun, ROLES, showStarters, startersShown } from './draft'

const props = defineProps<{ role: string; word: string; again: string; busy: boolean }>()
const emit = defineEmits<{ pick: [entry: ShelfEntry] }>()
const starters = ref(startersShown())
const role = ref(props.role as ShelfRow['role'])
const { data, error, isFetching } = useQuery({
  queryKey: ['shelf', () => begun.search.trim(), role, starters],
  queryFn: () =>
    ask(
      api.GET('/api/v1/shelf', {
        params: {
          query: { search: begun.search.trim(), role: role.value as '', starters: starters.value },
        },
      }),
    ),
  placeholderData: (old) => old,
  staleTime: 0,
})
const groups = computed(() => [
  { name: 'Your shelf', list: data.value?.filter((b) => b.own) ?? [] },
  { name: 'Made-up starters, to try things with', list: data.value?.filter((b) => !b.own) ?? [] },
])
function hide(event: Event) {
  starters.value = !(event.target as HTMLInputElement).checked
  showStarters(starters.value)
}
async function take(row: ShelfRow) {
  emit('pick', await ask(api.GET('/api/v1/shelf/{uid}', { params: { path: { uid: row.uid } } })))
}
function byClass() {
  const words = begun.search.trim().split(/\s+/)
  begun.maker = words.length > 1 ? (words[0] ?? '') : ''
  begun.model = words.length > 1 ? words.slice(1).join(' ') : (words[0] ?? '')
  begun.way = 'class'
}
</script>

<template>
  <div class="row">
    <label class="sr" for="library-search">Search the shelf</label>
    <input
      id="library-search"
      v-model="begun.search"
      autofocus
      maxlength="100"
      placeholder="maker, model, or what it can do: 4K120, eARC, 15 kHz…"
    />
    <PickRow
      v-if="!props.role"
      label="Which kind"
      :list="ROLES"
      :on="[role]"
      @pick="role = $event as ShelfRow['role']"
    />
    <label class="row tick"
      ><input type="checkbox" :checked="!starters" @change="hide" /> hide starters</label
    >
  </div>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-else-if="!data" class="quiet small" role="status">Reading the shelf…</p>
  <template v-for="g in groups" v-else :key="g.name">
    <h2 v-if="g.list.length">{{ g.name }}</h2>
    <ul>
      <li v-for="b in g.list" :key="b.uid">
        <button class="add" :disabled="busy" @click="take(b)">
          {{ again === b.name ? 'One more' : word }}<span class="sr"> {{ b.name }}</span>
        </button>
        <span>
          <b>{{ b.name }}</b> <span class="quiet">{{ b.summary || b.kind }}</span>
          <small class="quiet">{{ b.can.slice(0, 6).join(' · ') }}</small>
        </span>
      </li>
    </ul>
  </template>
  <div v-if="data && !data.length && !isFetching" class="empty">
    <b>Nothing here{{ begun.search.trim() ? ` is found by “${begun.search.trim()}”` : ' yet' }}.</b>
    A box of your own takes a few answers, and can be kept on the shelf for the next job.
    <p class="row">
      <button class="go" @click="byClass">Add it by its class</button>
      <button v-if="begun.search" @click="begun.search = ''">Show all</button>
    </p>
  </div>
</template>

<style scoped>
#library-search {
  flex: 1 1 240px;
}
h2 {
  margin: 12px 0 2px;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
li small {
  display: block;
}
.add {
  min-height: 28px;
  padding: 2px 12px;
}
.empty {
  margin-top: 12px;
}
.empty .row {
  margin-top: 8px;
}
</style>
