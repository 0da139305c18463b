<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import type { Condition, Field, FieldDocument } from '@/api/types'
import { condition } from '@/logic/definition'

const props = defineProps<{
  open: boolean
  roster: string
  fields: Field[]
  part: Condition | null
}>()
const emit = defineEmits<{ done: [when: Condition]; close: [] }>()
const when = ref<Condition>({})
const documents = computed<FieldDocument[]>(() =>
  props.fields.map((one) => ({ name: one.name, title: one.title })),
)

watch(
  () => props.open,
  (open) => {
    // The part of a file is most often one value of a coded field, such as a campus.
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
    title="The part that the file is about"
    :footer="null"
    :width="560"
    @cancel="emit('close')"
  >
    <p class="soft">
      Only records of {{ roster }} for which this holds can be absent from the file. Everybody else
      is left as they are.
    </p>
    <ConditionEditor v-model="when" :fields="documents" :locked="false" />
    <p class="do">
      <button class="btn main" @click="emit('done', when)">It claims everybody of this part</button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.do {
  margin-top: 14px;
}
</style>
