<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { bringBack } from '@/api/copies'
import { focusSoon } from '@/logic/focus'
import { momentInFull } from '@/logic/words'

/** A copy is brought back in place of what there is: its day is typed, for all since goes aside. */
const props = defineProps<{ copy: { file_name: string; ordered_at: string } | null }>()
const emit = defineEmits<{ ordered: []; close: [] }>()

const typed = ref('')
const problem = ref('')
const busy = ref(false)
const box = ref<HTMLInputElement>()
const day = computed(() => props.copy?.ordered_at.slice(0, 10) ?? '')
watch(
  () => props.copy,
  (copy) => {
    typed.value = problem.value = ''
    if (copy) focusSoon(() => box.value)
  },
)
async function act(): Promise<void> {
  if (!props.copy || typed.value.trim() !== day.value || busy.value) return
  busy.value = true
  try {
    await bringBack(props.copy.file_name)
    emit('ordered')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!copy"
    :title="copy ? `Bring back what was there ${momentInFull(copy.ordered_at)}?` : ''"
    :footer="null"
    :width="520"
    @cancel="emit('close')"
  >
    <p>
      All that was done since then goes aside, for everybody: files, changes, accounts. It is kept
      in a database beside, from which whoever runs the product can fetch it.
    </p>
    <p class="soft">
      The copy is restored and compared first; where it is not good, nothing happens. Everybody
      signs in again, with the password of that time. Who was erased since is erased again.
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <form @submit.prevent="act">
      <label
        >Type <b class="mono">{{ day }}</b> to bring it back
        <input ref="box" v-model="typed" class="box mono" autocomplete="off"
      /></label>
      <p class="do">
        <button class="btn main" :disabled="typed.trim() !== day || busy">Bring it back</button>
        <button type="button" class="btn" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
.box {
  display: block;
  width: 100%;
  margin-top: 4px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
