<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { Modal } from 'ant-design-vue'
import { countRecords } from '@/api/submissions'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import type { Condition, Field, FieldDocument } from '@/api/types'
import { today } from '@/logic/clock'
import { condition } from '@/logic/definition'
import { counted } from '@/logic/words'

/** A part of a roster is chosen, by a condition on its records. */
const props = defineProps<{
  open: boolean
  title: string
  /** What the part is for. */
  words: string
  act: string
  roster: string
  fields: Field[]
  part: Condition | null
}>()
const emit = defineEmits<{ done: [when: Condition]; close: [] }>()
const when = ref<Condition>({})
const documents = computed<FieldDocument[]>(() =>
  props.fields.map((one) => ({
    name: one.name,
    title: one.title,
    ...(one.code_list ? { nevefield: { codeList: one.code_list } } : {}),
  })),
)

/** How many records the part has; nothing is said while its condition has no value yet. */
const size = ref('')
const isWhole = computed(() => !JSON.stringify(when.value).match(/"(is|not|has)":""/))
watchDebounced(
  [when, () => props.open],
  async () => {
    if (!props.open || !isWhole.value) return (size.value = '')
    const asked = { day: today(), like: null, instead: false, chosen: when.value }
    size.value = await countRecords(props.roster, asked).then(
      (found) => `${counted(found.records, 'record')} today.`,
      (error: Error) => error.message,
    )
  },
  { debounce: 200, immediate: true },
)

watch(
  () => props.open,
  (open) => {
    // A part is most often one value of a coded field, such as a campus.
    if (open)
      when.value =
        props.part ??
        condition(
          props.fields.find((one) => one.code_list && !one.several)?.name ??
            props.fields[0]?.name ??
            '',
          'is',
          '',
        )
  },
  { immediate: true },
)
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="title"
    :footer="null"
    :width="560"
    @cancel="emit('close')"
  >
    <p class="soft">{{ words }}</p>
    <ConditionEditor v-model="when" :fields="documents" :locked="false" />
    <p class="size" role="status">{{ size }}</p>
    <p class="do">
      <button class="btn main" :disabled="!isWhole" @click="emit('done', when)">{{ act }}</button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.size {
  min-height: 20px;
  margin-top: 8px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
.soft {
  margin-bottom: 10px;
}
</style>
