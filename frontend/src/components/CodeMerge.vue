<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { Modal, message } from 'ant-design-vue'
import { ofCodes } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { mergeCode } from '@/api/rosters'
import type { CodeList, Merged } from '@/api/types'
import { counted } from '@/logic/words'

const props = defineProps<{ open: boolean; list: CodeList }>()
const emit = defineEmits<{ done: []; close: [] }>()

const code = ref('')
const into = ref('')
const retire = ref(false)
const seen = shallowRef<Merged[] | null>(null)
const problem = ref('')
const records = computed(() => seen.value?.reduce((sum, one) => sum + one.records, 0) ?? 0)
const withUse = computed(() =>
  ofCodes(props.list.codes).map((one, at) => ({
    ...one,
    label: `${one.label} (${props.list.codes[at]!.used})`,
  })),
)
const act = computed(
  () =>
    `${retire.value ? 'Retire' : 'Merge'} ${code.value}: give ${counted(records.value, 'record')} ${into.value}`,
)

async function go(look: boolean): Promise<void> {
  try {
    const found = await mergeCode(props.list.name, {
      code: code.value,
      into: into.value,
      retire: retire.value,
      look,
    })
    problem.value = ''
    if (look) seen.value = found
    else {
      void message.success(
        `${code.value} → ${into.value}: ${counted(records.value, 'record')} followed. Each ` +
          `roster’s change can be taken back in its history.`,
        6,
      )
      emit('done')
    }
  } catch (error) {
    seen.value = null
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

watch([code, into, retire], () => {
  seen.value = null
  if (code.value && into.value) void go(true)
})
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="`Let a code of ${list.title} go`"
    :footer="null"
    :width="520"
    @cancel="emit('close')"
  >
    <label
      >The code
      <ChooseOne
        v-model="code"
        :options="withUse"
        label="The code that goes"
        placeholder="choose a code"
    /></label>
    <label
      >In its place
      <ChooseOne
        v-model="into"
        :options="ofCodes(list.codes.filter((one) => one.code !== code))"
        label="The code that its people get"
        placeholder="choose a code"
    /></label>
    <p>
      <label class="tick"
        ><input v-model="retire" type="checkbox" /> keep it for the past, with yesterday as its last
        day; otherwise it becomes another name of {{ into || 'the other' }}</label
      >
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="seen && !seen.length" class="soft">No record has it.</p>
    <ul v-else-if="seen">
      <li v-for="one in seen" :key="one.roster">
        {{ one.title }}: {{ counted(one.records, 'record') }} get {{ into }}, as a change of their
        own that can be taken back
      </li>
    </ul>
    <p class="do">
      <button class="btn main" :disabled="!seen" @click="go(false)">
        {{ code && into ? act : 'Choose two codes' }}</button><button
        class="btn"
        @click="emit('close')"
      >
        Cancel
      </button>
    </p>
  </Modal>
</template>

<style scoped>
label {
  display: grid;
  grid-template-columns: 100px 1fr;
  align-items: center;
  margin-bottom: 8px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
