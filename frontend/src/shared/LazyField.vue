<script setup lang="ts">
// A field that tells its text when it is left or entered; what stands there while somebody types is never painted over.
import { ref, watch } from 'vue'

const props = defineProps<{ value: string | number | null | undefined }>()
const emit = defineEmits<{ say: [text: string] }>()
const own = () => String(props.value ?? '')
const text = ref(own())
const typing = ref(false)
watch(
  () => props.value,
  () => {
    if (!typing.value) text.value = own()
  },
)
</script>

<template>
  <input v-model="text" @focus="typing = true" @change="emit('say', text)" @blur="typing = false" />
</template>
