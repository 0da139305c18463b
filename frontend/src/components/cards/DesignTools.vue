<script setup lang="ts">
import { ref } from 'vue'
import FacesDialog from './FacesDialog.vue'
import VersionsDialog from './VersionsDialog.vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import type { CardDesign } from '@/api/types'
import type { UseDesign } from '@/composables/useDesign'

/** Undo, earlier versions, and keeping what was changed. */
defineProps<{ design: CardDesign; open: UseDesign }>()
const looking = ref(false)
const setting = ref(false)
</script>

<template>
  <span v-if="design.may_change" class="tools">
    <button class="btn" :disabled="!open.canUndo.value" @click="open.undo">
      Undo <KeyCap of="z" />
    </button>
    <button class="btn" @click="setting = true">Who and how large …</button>
    <button class="btn" @click="looking = true">Versions</button>
    <template v-if="open.changed.value">
      <button class="btn" @click="open.leave">Leave it as it was</button>
      <button class="btn fir" :disabled="!!open.wrong.value" @click="open.keep">
        Keep as version {{ design.version + 1 }}
      </button>
    </template>
    <span v-else class="soft small">kept ✓</span>
  </span>
  <FacesDialog
    v-if="setting"
    :design="design"
    :document="open.document.value"
    @close="setting = false"
    @put="open.put"
  />
  <VersionsDialog
    v-if="looking"
    :design="design"
    @close="looking = false"
    @take="
      (document) => {
        looking = false
        open.put(document)
      }
    "
  />
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
</style>
