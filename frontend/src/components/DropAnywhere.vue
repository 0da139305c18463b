<script setup lang="ts">
import { computed, ref } from 'vue'
import { useEventListener } from '@vueuse/core'
import { Modal } from 'ant-design-vue'
import { useRouter } from 'vue-router'
import CorrectionsDialog from './CorrectionsDialog.vue'
import { PREPARE, useSession } from '@/composables/useSession'
import { useDrop } from '@/composables/useDrop'

const router = useRouter()
const session = useSession()
const drop = useDrop()
const over = ref(false)
const percent = computed(() => Math.round(drop.state.part * 100))
const rosters = computed(
  () => session.state.me?.rosters.filter((one) => one.level >= PREPARE) ?? [],
)

const hasFile = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false

function enter(event: DragEvent): void {
  if (!hasFile(event)) return
  event.preventDefault()
  over.value = true
}

function leave(event: DragEvent): void {
  if (!event.relatedTarget) over.value = false
}

/** Where there is no roster yet, a file becomes the first one. */
async function take(file: File): Promise<void> {
  if (drop.mayOpen() && !session.state.me?.rosters.length) await begin(file)
  else await send(file)
}

async function begin(file: File): Promise<void> {
  const opening = await drop.sendNew(file)
  if (opening) await router.push(`/openings/${opening}`)
}

async function send(file: File, roster = ''): Promise<void> {
  const intake = await drop.send(file, roster)
  if (intake) await router.push(`/intakes/${intake}/problems`)
}

function dropped(event: DragEvent): void {
  if (!hasFile(event)) return
  event.preventDefault()
  over.value = false
  const file = event.dataTransfer?.files[0]
  if (file) void take(file)
}

/** The dialog hears Escape by itself only once it has the focus. */
function hear(event: KeyboardEvent): void {
  if (event.key === 'Escape' && drop.state.problem) drop.close()
}

useEventListener(window, 'keydown', hear)
useEventListener(window, ['dragenter', 'dragover'], enter)
useEventListener(window, 'dragleave', leave)
useEventListener(window, 'drop', dropped)
</script>

<template>
  <CorrectionsDialog :corrections="drop.state.corrections" @close="drop.read()" />
  <div v-if="over" class="over">
    <p>
      Drop it: it becomes a new intake.<br /><span
        >Nothing goes into a roster before you apply it.</span
      >
    </p>
  </div>
  <Modal
    destroy-on-close
    :open="!!drop.state.file"
    :footer="null"
    :closable="!!drop.state.problem"
    :mask-closable="false"
    :width="460"
    @cancel="drop.close()"
  >
    <div v-if="drop.state.file" role="status">
      <template v-if="drop.state.problem">
        <h2>“{{ drop.state.file.name }}” was not taken in</h2>
        <p class="said">{{ drop.state.problem }}</p>
        <p v-if="drop.state.choosing && rosters.length" class="rosters">
          Take it in for
          <button
            v-for="roster in rosters"
            :key="roster.name"
            class="btn"
            @click="send(drop.state.file as File, roster.name)"
          >
            {{ roster.title }}
          </button>
        </p>
        <p class="acts">
          <button
            v-if="drop.state.choosing && drop.mayOpen()"
            class="btn fir"
            @click="begin(drop.state.file as File)"
          >
            Make a new roster of it
          </button>
          <button class="btn" @click="drop.close()">Close</button>
        </p>
      </template>
      <template v-else>
        <h2>Taking in “{{ drop.state.file.name }}”</h2>
        <p class="said">
          {{
            percent < 100
              ? `${percent} % sent`
              : drop.state.work
                ? `${drop.state.work.doing} …`
                : 'Reading, checking and comparing it with the roster …'
          }}
        </p>
        <progress v-if="percent < 100" :value="percent" max="100" aria-label="Sending" />
        <progress
          v-else
          :value="drop.state.work?.done || undefined"
          :max="drop.state.work?.total || 1"
          aria-label="Taking it in"
        />
      </template>
    </div>
  </Modal>
</template>

<style scoped>
.over {
  position: fixed;
  inset: 44px 0 0;
  z-index: 60;
  background: color-mix(in srgb, var(--shade) 88%, transparent);
  border: 2px dashed var(--fir);
  display: flex;
  align-items: center;
  justify-content: center;
  text-align: center;
  font-size: 18px;
  line-height: 26px;
  pointer-events: none;
}
.over span {
  font-size: 14px;
  color: var(--ink2);
}
.said {
  margin: 8px 0 14px;
}
.rosters {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  margin-bottom: 12px;
  color: var(--ink2);
}
.acts {
  display: flex;
  gap: 8px;
}
progress {
  width: 100%;
  height: 8px;
  accent-color: var(--fir);
}
</style>
