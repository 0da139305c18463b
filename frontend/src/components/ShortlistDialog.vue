<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { keepShortlist } from '@/api/shortlists'
import type { Roster, Shortlist } from '@/api/types'
import { conditionOf } from '@/logic/acts'
import { focusSoon } from '@/logic/focus'
import { counted } from '@/logic/words'

const props = defineProps<{
  open: boolean
  roster: Roster
  records: number[]
  filters: string[]
  text: string
  number: number
}>()
const emit = defineEmits<{ kept: [shortlist: Shortlist]; close: [] }>()

const title = ref('')
const live = ref(false)
const shared = ref(true)
const problem = ref('')
const box = ref<HTMLInputElement>()
/** Filters can be followed, ticks and words cannot. */
const condition = computed(() =>
  props.records.length || props.text ? null : conditionOf(props.filters, props.roster.fields),
)

async function keep(): Promise<void> {
  if (!title.value.trim()) return
  problem.value = ''
  try {
    const what =
      live.value && condition.value
        ? { live: condition.value }
        : props.records.length
          ? { records: props.records }
          : { q: props.text, filter: props.filters }
    emit(
      'kept',
      await keepShortlist(props.roster.name, {
        title: title.value.trim(),
        is_shared: shared.value,
        ...what,
      }),
    )
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

watch(
  () => props.open,
  (open) => {
    if (!open) return
    title.value = problem.value = ''
    live.value = false
    shared.value = true
    focusSoon(() => box.value)
  },
)
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="`Keep ${counted(number, 'record')} as a shortlist`"
    :footer="null"
    :width="440"
    @cancel="emit('close')"
  >
    <form @submit.prevent="keep">
      <label class="title"
        >Title
        <input
          ref="box"
          v-model="title"
          class="box"
          maxlength="120"
          placeholder="such as: New in September"
      /></label>
      <p v-if="condition">
        <label
          ><input v-model="live" type="checkbox" /> live: whoever fits “only where” on the day it is
          looked at</label
        >
      </p>
      <p>
        <label><input v-model="shared" type="checkbox" /> others see it too</label>
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="!title.trim()">Keep it</button
        ><button type="button" class="btn" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
.title {
  display: grid;
  grid-template-columns: 60px 1fr;
  align-items: center;
  margin-bottom: 8px;
}
p label {
  display: inline-flex;
  gap: 8px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 12px;
}
</style>
