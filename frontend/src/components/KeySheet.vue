<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { useKeySheet } from '@/composables/useKeySheet'
import { useKeys } from '@/composables/useKeys'
import { useSession } from '@/composables/useSession'
import { isSign, pressedFor, USUAL, type Chosen } from '@/logic/keys'
import { changeKey, KEYS } from '@/logic/keysheet'

/** What keys do; whether single ones act, and which, is everybody's own choice. */
const open = useKeySheet()
const session = useSession()
const chosen = computed<Chosen>(() => session.state.me?.keys ?? USUAL)
/** The key that is waited for, in place of one of ours. */
const changing = ref('')
const problem = ref('')
const isChanged = computed(() => Object.keys(chosen.value.changed).length > 0)

async function keep(keys: Chosen): Promise<void> {
  problem.value = ''
  try {
    await session.chooseKeys({ single: keys.single, changed: { ...keys.changed } })
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
function press(event: KeyboardEvent): void {
  if (!changing.value || ['Tab', 'Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return
  event.preventDefault()
  event.stopPropagation()
  const ours = changing.value
  changing.value = ''
  if (event.key === 'Escape') return
  const change = changeKey(ours, event.key, chosen.value)
  if (typeof change === 'string') problem.value = change
  else void keep(change)
}
useKeys({ '?': () => (open.value = true) })
</script>

<template>
  <Modal v-model:open="open" destroy-on-close title="Keys" :footer="null" :width="800">
    <p class="how">
      <label
        ><input
          type="checkbox"
          :checked="chosen.single"
          @change="keep({ ...chosen, single: !chosen.single })"
        />
        Letters, digits and signs act alone</label
      >
      <button v-if="isChanged" class="link" @click="keep({ ...chosen, changed: {} })">
        All keys as they were
      </button>
      <span v-if="problem" class="flag stop" role="alert">{{ problem }}</span>
      <span v-else class="soft">Press a key’s name to change it.</span>
    </p>
    <dl @keydown="press">
      <div v-for="[key, does] in KEYS" :key="`${key} ${does}`">
        <dt>
          <button
            v-if="isSign(key)"
            class="plain"
            :disabled="!chosen.single"
            :aria-label="
              changing === key
                ? `Press the key for: ${does}`
                : `${pressedFor(key, chosen) || key}: change it`
            "
            @click="changing = key"
            @blur="changing = ''"
          >
            <kbd :class="{ changing: changing === key, off: !chosen.single }">{{
              changing === key ? '…' : pressedFor(key, chosen) || key
            }}</kbd>
          </button>
          <kbd v-else>{{ key }}</kbd>
        </dt>
        <dd>{{ does }}</dd>
      </div>
    </dl>
    <p class="soft version">Nevefield {{ session.state.me?.version }}</p>
  </Modal>
</template>

<style scoped>
.how {
  display: flex;
  gap: 14px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
dl {
  columns: 2;
  column-gap: 24px;
}
dl > div {
  display: grid;
  grid-template-columns: 86px 1fr;
  align-items: baseline;
  break-inside: avoid;
  padding: 3px 0;
}
.plain:enabled kbd {
  border-style: dashed;
}
.changing {
  border-color: var(--fir);
  background: var(--fir-soft);
}
.off {
  text-decoration: line-through;
}
.version {
  margin-top: 10px;
}
</style>
