<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { tryLimits } from '@/api/people'
import { useAnswer } from '@/composables/useAnswer'
import { counted } from '@/logic/words'

const props = defineProps<{ open: boolean; intake: number; certain: number; nobody: number }>()
const emit = defineEmits<{ done: [limits: { certain: number; nobody: number }]; close: [] }>()
const from = ref(98)
const upTo = ref(4)
const possible = computed(
  () => from.value >= 50 && from.value <= 100 && upTo.value >= 0 && upTo.value <= 50,
)
const {
  answer: tried,
  problem,
  waiting,
  again,
} = useAnswer(() =>
  props.open && possible.value ? tryLimits(props.intake, from.value, upTo.value) : null,
)
const said = (part: string) => counted(tried.value?.counts[part] ?? 0, 'row')
watch(
  () => props.open,
  (open) => {
    if (!open) return
    from.value = props.certain
    upTo.value = props.nobody
    again()
  },
)
watch([from, upTo], again)
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    title="When to match automatically"
    :footer="null"
    :width="480"
    @cancel="emit('close')"
  >
    <p class="soft">
      The score is the chance in 100 that a row is that record. A row that may be several people is
      always left to you, and so is one whose given name or day of birth differs, unless it is
      plainly somebody else of the household: a brother, sister or twin, a parent or a child.
    </p>
    <label
      >It is that record from
      <input v-model.number="from" class="box" type="number" min="50" max="100" step="0.5" />
      on</label
    >
    <label
      >It is nobody in the roster up to
      <input v-model.number="upTo" class="box" type="number" min="0" max="50" step="0.5"
    /></label>
    <p v-if="!possible || problem" class="flag stop" role="alert">
      {{ problem || 'The first limit lies between 50 and 100, the second between 0 and 50.' }}
    </p>
    <p v-else-if="!tried" class="soft" role="status">{{ waiting ? 'Counting …' : '' }}</p>
    <p v-else aria-live="polite">
      <b>{{ said('certain') }}</b> known by likeness, <b>{{ said('nobody') }}</b> nobody,
      <b>{{ said('possible') }}</b> left to you.
    </p>
    <p class="do">
      <button
        class="btn main"
        :disabled="!tried"
        @click="emit('done', { certain: from, nobody: upTo })"
      >
        Use these limits here
      </button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
label {
  display: block;
  margin: 10px 0;
}
.box {
  width: 74px;
}
.do {
  margin-top: 14px;
}
</style>
