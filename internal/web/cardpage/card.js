// The page of a card works without this. With it, a photograph is made small before it goes over a slow line, and a report is sent again
// under its own number until an answer has come.
'use strict'
const form = document.getElementById('report')
const edge = 1600 // of the picture that is sent

async function smaller(file) {
  try {
    const picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
    const scale = Math.min(1, edge / Math.max(picture.width, picture.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(picture.width * scale)
    canvas.height = Math.round(picture.height * scale)
    canvas.getContext('2d').drawImage(picture, 0, 0, canvas.width, canvas.height)
    const blob = await new Promise((done) => canvas.toBlob(done, 'image/jpeg', 0.82))
    return blob && blob.size < file.size ? blob : file
  } catch {
    return file // the server says what is wrong with it
  }
}

async function send(body) {
  for (let wait = 1000; ; wait = Math.min(wait * 2, 30000)) {
    try {
      return await fetch(form.action, { method: 'POST', body })
    } catch {
      await new Promise((done) => setTimeout(done, wait)) // no network: the same report again
    }
  }
}

form?.addEventListener('submit', async (event) => {
  event.preventDefault()
  const button = form.querySelector('button')
  button.disabled = true
  button.setAttribute('aria-busy', 'true')
  const body = new FormData(form)
  const photo = body.get('photo')
  if (photo instanceof File && photo.size > 0) body.set('photo', await smaller(photo), 'photo.jpg')
  const answer = await send(body)
  if (answer.redirected) location.assign(answer.url)
  else document.documentElement.innerHTML = new DOMParser().parseFromString(await answer.text(), 'text/html').documentElement.innerHTML
})
