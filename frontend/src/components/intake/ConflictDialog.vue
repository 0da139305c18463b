<script setup lang="ts">
import { Modal } from 'ant-design-vue'
import type { CellConflict } from '@/composables/useIntake'

defineProps<{ conflict: CellConflict | null; title: string }>()
const emit = defineEmits<{ mine: []; theirs: [] }>()
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!conflict"
    :title="`Line ${conflict?.line}, ${title}: two values`"
    :footer="null"
    :width="460"
    @cancel="emit('theirs')"
  >
    <template v-if="conflict">
      <p class="soft">
        {{ conflict.by || 'Somebody' }} has set this cell while you were at it. Yours was not taken.
      </p>
      <dl>
        <div>
          <dt>{{ conflict.by || 'Theirs' }}</dt>
          <dd class="mono">{{ conflict.theirs || 'empty' }}</dd>
        </div>
        <div>
          <dt>Yours</dt>
          <dd class="mono">{{ conflict.yours || 'empty' }}</dd>
        </div>
      </dl>
      <p class="do">
        <button class="btn main" @click="emit('theirs')">
          Keep “{{ conflict.theirs || 'empty' }}”</button
        ><button class="btn" @click="emit('mine')">Set “{{ conflict.yours || 'empty' }}”</button>
      </p>
    </template>
  </Modal>
</template>

<style scoped>
dl {
  margin: 12px 0;
}
dl div {
  display: grid;
  grid-template-columns: 130px 1fr;
  padding: 4px 0;
  border-bottom: 1px solid var(--drift);
}
dt {
  color: var(--ink2);
}
.do {
  display: flex;
  gap: 8px;
}
</style>
