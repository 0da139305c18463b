<script setup lang="ts">
import { ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { useRouter } from 'vue-router'
import { beginList } from '@/api/rosters'
import { focusSoon } from '@/logic/focus'

/** A code list is begun by its name; its codes are added or brought as a file then. */
const router = useRouter()
const open = ref(false)
const title = ref('')
const problem = ref('')
const box = ref<HTMLInputElement>()

function ask(): void {
  title.value = problem.value = ''
  open.value = true
  focusSoon(() => box.value)
}
async function begin(): Promise<void> {
  try {
    const name = await beginList(title.value)
    open.value = false
    await router.push(`/codes/${name}`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <button class="btn" @click="ask">Begin a list</button>
  <Modal :open="open" :footer="null" :width="420" title="Begin a code list" @cancel="open = false">
    <form @submit.prevent="begin">
      <label
        >What it is called
        <input ref="box" v-model="title" class="box" maxlength="60" required />
      </label>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p>
        <button class="btn main">Begin it</button>
        <button type="button" class="btn" @click="open = false">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}
.box {
  display: block;
  width: 100%;
}
p {
  display: flex;
  gap: 8px;
}
</style>
