<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { Modal } from 'ant-design-vue'
import { getVersion } from '@/api/definitions'
import type { Definition, DefinitionDocument, DefinitionVersion } from '@/api/types'
import { momentInFull } from '@/logic/words'

/** The versions of a definition: read, compared with the one in force, brought back. */
const props = defineProps<{ name: string; inForce: Definition; locked: boolean }>()
const emit = defineEmits<{ back: [document: DefinitionDocument] }>()

const FEW = 6
const all = ref(false)
const shown = shallowRef<DefinitionVersion | null>(null)
const problem = ref('')
const listed = computed(() => props.inForce.versions.slice(0, all.value ? undefined : FEW))

async function open(number: number): Promise<void> {
  problem.value = ''
  try {
    shown.value = await getVersion(props.name, number)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
function back(): void {
  if (shown.value) emit('back', shown.value.document as unknown as DefinitionDocument)
  shown.value = null
}
</script>

<template>
  <div class="versions">
    <h2>Versions</h2>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <ul>
      <li v-for="one in listed" :key="one.number">
        <b>{{ one.number }}</b> {{ momentInFull(one.at) }}{{ one.by ? `, ${one.by}` : '' }}
        <span v-if="one.number === inForce.number" class="soft">· in force</span>
        <button v-else class="link" @click="open(one.number)">compare with the one in force</button>
      </li>
    </ul>
    <button v-if="!all && inForce.versions.length > FEW" class="link" @click="all = true">
      all {{ inForce.versions.length }} versions
    </button>
    <Modal
      destroy-on-close
      :open="!!shown"
      :title="`Version ${shown?.number} and version ${inForce.number}, which is in force`"
      :footer="null"
      :width="620"
      @cancel="shown = null"
    >
      <p v-if="shown && !shown.changes.length">They say the same.</p>
      <template v-else-if="shown">
        <p class="soft">What became another since version {{ shown.number }}:</p>
        <ul class="changes">
          <li v-for="one in shown.changes" :key="one">{{ one }}</li>
        </ul>
      </template>
      <details v-if="shown">
        <summary>Version {{ shown.number }} as JSON</summary>
        <pre class="mono">{{ JSON.stringify(shown.document, null, 1) }}</pre>
      </details>
      <p class="do">
        <button v-if="!locked" class="btn main" @click="back">Bring it back …</button>
        <button class="btn" @click="shown = null">Close</button>
        <span v-if="!locked" class="soft"
          >It is tried against the records first, and comes into force as version
          {{ inForce.number + 1 }}.</span
        >
      </p>
    </Modal>
  </div>
</template>

<style scoped>
.versions {
  margin-top: 18px;
  font-size: 13px;
}
h2 {
  font-size: 14px;
}
.versions > ul {
  padding: 0;
  list-style: none;
}
.changes {
  padding-left: 20px;
}
pre {
  max-height: 300px;
  overflow: auto;
  font-size: 12px;
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 14px;
}
</style>
